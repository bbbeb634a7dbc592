#include <cursimeter/intent.hpp>

namespace cursimeter {
bool IntentBuilder::add(const Change& change) {
    if (count_ == changes_.size()) {
        return false;
    }
    changes_[count_++] = change;
    return true;
}

bool IntentBuilder::press(ActionId action, double at) {
    last_held_ |= key_bit(action);
    return add(Change::press(action, at));
}

bool IntentBuilder::release(ActionId action, double at) {
    last_held_ &= ~key_bit(action);
    return add(Change::release(action, at));
}

bool IntentBuilder::move_to(Move move, double at) {
    last_move_ = move;
    return add(Change::move_to(move, at));
}

bool IntentBuilder::look_to(Look look, double at) {
    last_look_ = look;
    return add(Change::look_to(look, at));
}

Intent IntentBuilder::intent() const {
    Intent intent;
    intent.move = start_move_;
    intent.look = start_look_;
    intent.held = start_held_;
    intent.changes = std::span(changes_.data(), count_);
    return intent;
}

void IntentBuilder::next_tick() {
    count_ = 0;
    start_move_ = last_move_;
    start_look_ = last_look_;
    start_held_ = last_held_;
}

}  // namespace cursimeter
