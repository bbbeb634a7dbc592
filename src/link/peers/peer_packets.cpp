#include <algorithm>
#include <cmath>

#include "core/runner/field_text.hpp"
#include "link/peers/peer_work.hpp"
#include "link/wire/exact_runner.hpp"

/// What packets do to a game of peers, and the packets that it sends.
namespace cursimeter::link {
namespace {

/// Part by which a reading of who is ahead moves what is known: jitter is averaged over some 16 packets.
constexpr double lead_gain = 1.0 / 16.0;
/// Ticks that a packet may be away from this end's own: further is nonsense.
constexpr std::int32_t furthest_tick = 4096;
/// Ticks before the newest that is known of a player within which its intents can be told.
constexpr std::uint32_t oldest_told = moments_kept - 8;

}  // namespace

void PeerGame::Work::hear(std::size_t player) {
    others[player].heard = true;
    others[player].heard_at = clock.now();
}

void PeerGame::Work::lose(std::size_t player) {
    if (!others[player].gone) {
        others[player].gone = true;
        end_the_gone();
    }
}

void PeerGame::Work::refuse(Farewell why, std::uint32_t more) {
    phase = PeerPhase::refused;
    farewell = why;
    detail = more;
}

void PeerGame::Work::take_hello(const wire::PeerHello& hello) {
    if (phase != PeerPhase::joining) {
        return;
    }
    if (hello.version != protocol_version) {  // which alone is the same in all of them
        refuse(Farewell::other_version, hello.version);
    } else if (hello.player >= players() || hello.player == config.own) {
        ++statistics.malformed;
    } else if (hello.rate != wire::rate_of(config.tick_rate)) {
        refuse(Farewell::other_tick_rate, hello.rate);
    } else if (hello.game != config.game || hello.world != config.world) {
        refuse(Farewell::other_game, hello.game != config.game ? 0 : 1);
    } else if (hello.setup != setup) {
        refuse(Farewell::other_charts, 0);
    } else {
        greet(hello);
    }
}

void PeerGame::Work::greet(const wire::PeerHello& hello) {
    hear(hello.player);
    const std::uint32_t all = (1U << players()) - 1U;
    others[hello.player].complete = (hello.heard | 1U << hello.player) == all;
    begin_if_complete();
}

void PeerGame::Work::take_intents(wire::Reader& reader) {
    wire::PeerHead head;
    wire::code(reader, head, players());
    const auto later = static_cast<std::int32_t>(head.now - rollback.now());
    if (head.player >= players() || head.player == config.own || later > furthest_tick ||
        later < -furthest_tick) {
        ++statistics.malformed;
        return;
    }
    Other& other = others[head.player];
    if (other.gone || phase == PeerPhase::split) {
        return;  // what it says now not all may hear
    }
    hear(head.player);
    other.complete = true;
    if (phase == PeerPhase::joining) {
        begin_if_complete();
        if (phase == PeerPhase::joining) {
            return;
        }
    }
    if ((head.gone >> config.own & 1U) != 0) {
        phase = PeerPhase::ended;  // the others go on without this end
        farewell = Farewell::silent;
        return;
    }
    const double its_now = head.now + head.part / wire::peer_clock_steps;
    const double lead = rollback.now() + tick_part() - its_now;
    const double its_lead = head.ahead / wire::peer_clock_steps;
    other.my_lead = other.led ? other.my_lead + (lead - other.my_lead) * lead_gain : lead;
    other.its_lead = other.led ? other.its_lead + (its_lead - other.its_lead) * lead_gain : its_lead;
    other.led = true;
    other.says_gone = head.gone;
    for (std::size_t i = 0; i < players(); ++i) {
        // Of this end's own intents it can have no more than there are.
        const std::uint32_t most = i == config.own ? rollback.known(i) : head.known[i];
        other.known[i] = std::max(other.known[i], std::min(head.known[i], most));
        if ((head.gone >> i & 1U) != 0 && i != config.own) {
            lose(i);
        }
    }
    if (head.compared >= other.compared) {
        other.compared = head.compared;
        other.digests = head.digests;
    }
    take_rows(reader, head.now);
    end_the_gone();
    compare_with(head.player);
}

void PeerGame::Work::take_rows(wire::Reader& reader, std::uint32_t now) {
    wire::Model more{0x4000};
    for (std::size_t rows = 0; rows < most_peers; ++rows) {
        bool any = false;
        reader.bit(more, any);
        if (!any) {
            return;
        }
        wire::PeerRow row;
        wire::code(reader, row, now);
        if (row.player >= players() || row.player == config.own || row.first == 0) {
            ++statistics.malformed;
            return;
        }
        const std::uint32_t known = rollback.known(row.player);
        if (row.first > known + 1 || known - (row.first - 1) >= oldest_told) {
            return;  // told by one that has not come, or is forgotten
        }
        const std::uint32_t actions = actions_below(rollback.chart(row.player).action_count());
        StatedIntent before = rollback.intent(row.player, row.first - 1);
        wire::IntentModels models = wire::fresh_intent_models;
        for (std::uint32_t i = 0; i < row.count; ++i) {
            StatedIntent intent;
            wire::code_intent(reader, models, intent, before);
            intent.held &= actions;
            before = intent;
            const std::uint32_t tick = row.first + i;
            if (others[row.player].ended || tick > rollback.now() + moments_kept / 2) {
                continue;
            }
            if (tick == rollback.known(row.player) + 1) {
                rollback.take(row.player, intent);
            }
        }
    }
}

void PeerGame::Work::end_the_gone() {
    for (std::size_t i = 0; i < players(); ++i) {
        Other& gone = others[i];
        if (i == config.own || !gone.gone || gone.ended) {
            continue;
        }
        std::uint32_t last = rollback.known(i);
        bool all_say_so = true;
        for (std::size_t k = 0; k < players(); ++k) {
            if (k != config.own && !others[k].gone) {
                all_say_so = all_say_so && (others[k].says_gone >> i & 1U) != 0;
                last = std::max(last, others[k].known[i]);
            }
        }
        // What somebody else has of it comes from there.
        if (all_say_so && rollback.known(i) == last) {
            gone.ended = true;
            rollback.end(i, last);
            tell(PeerEventKind::gone, i, last);
        }
    }
}

const PeerGame::Work::Comparison* PeerGame::Work::comparison(std::uint32_t tick) const {
    const Comparison& there = comparisons[tick / compare_every % comparisons.size()];
    return tick != 0 && there.tick == tick ? &there : nullptr;
}

void PeerGame::Work::note_comparison() {
    while (rollback.confirmed() >= next_comparison) {
        Comparison& there = comparisons[next_comparison / compare_every % comparisons.size()];
        there.tick = next_comparison;
        for (std::size_t i = 0; i < players(); ++i) {
            there.runners[i] = rollback.runner(i, next_comparison);
            there.digests[i] = static_cast<std::uint32_t>(digest(there.runners[i]));
        }
        next_comparison += compare_every;
        for (std::size_t i = 0; i < players(); ++i) {
            if (i != config.own && !others[i].gone) {
                compare_with(i);
            }
        }
    }
}

void PeerGame::Work::compare_with(std::size_t player) {
    Other& other = others[player];
    const Comparison* own = comparison(other.compared);
    if (own == nullptr || other.agreed == other.compared || phase != PeerPhase::playing) {
        return;
    }
    for (std::size_t i = 0; i < players(); ++i) {
        if (own->digests[i] != other.digests[i]) {
            come_apart(other.compared, i, player);
            return;
        }
    }
    other.agreed = other.compared;
    ++statistics.compared;
}

void PeerGame::Work::come_apart(std::uint32_t tick, std::size_t player, std::size_t with) {
    split = PeerSplit{Tick{tick}, player, with, {}, {}, {}};
    phase = PeerPhase::split;
    tell(PeerEventKind::split, player, tick);
    send_to_all(Other::ToSend::state);
}

void PeerGame::Work::take_state(wire::Reader& reader) {
    wire::PeerStateHead head;
    wire::code(reader, head);
    const Comparison* own = comparison(head.tick);
    if (head.from >= players() || head.from == config.own || head.player >= players() || own == nullptr) {
        ++statistics.malformed;
        return;
    }
    Runner runner;
    if (!wire::read_runner(reader, rollback.chart(head.player), runner)) {
        ++statistics.malformed;
        return;
    }
    const auto difference = detail::first_difference(own->runners[head.player], runner);
    if (!difference) {
        return;
    }
    if (phase == PeerPhase::playing) {
        come_apart(head.tick, head.player, head.from);
    }
    if (split && split->field.empty() && split->tick.value == head.tick && split->player == head.player) {
        split->with = head.from;
        split->field = difference->name;
        split->own = difference->first;
        split->other = difference->second;
    }
}

std::size_t PeerGame::Work::write(std::size_t to, Other::ToSend what) {
    const std::span<std::byte> room(packet);
    wire::Writer writer(room.subspan(wire::envelope_bytes));
    wire::Kind kind = wire::Kind::peer_hello;
    switch (what) {
        case Other::ToSend::nothing:
            return 0;
        case Other::ToSend::intents:
            return write_intents(to);
        case Other::ToSend::hello: {
            wire::PeerHello hello;
            hello.player = static_cast<std::uint32_t>(config.own);
            hello.rate = wire::rate_of(config.tick_rate);
            hello.game = config.game;
            hello.world = config.world;
            hello.setup = setup;
            for (std::size_t i = 0; i < players(); ++i) {
                hello.heard |= (i == config.own || others[i].heard ? 1U : 0U) << i;
            }
            wire::code(writer, hello);
            break;
        }
        case Other::ToSend::state: {
            const Comparison* own = split ? comparison(split->tick.value) : nullptr;
            if (own == nullptr) {
                return 0;
            }
            kind = wire::Kind::peer_state;
            wire::PeerStateHead head{static_cast<std::uint32_t>(config.own),
                                     static_cast<std::uint32_t>(split->player), split->tick.value};
            wire::code(writer, head);
            wire::write_runner(writer, own->runners[split->player]);
            break;
        }
        case Other::ToSend::goodbye: {
            kind = wire::Kind::peer_goodbye;
            wire::PeerGoodbye goodbye{static_cast<std::uint32_t>(config.own)};
            wire::code(writer, goodbye);
            break;
        }
    }
    const std::size_t size = wire::envelope_bytes + writer.finish();
    wire::stamp(room.first(size), kind, key);
    return size;
}

std::size_t PeerGame::Work::write_intents(std::size_t to) {
    const Other& other = others[to];
    wire::PeerHead head;
    head.player = static_cast<std::uint32_t>(config.own);
    head.now = rollback.now();
    head.part = std::min(15U, static_cast<std::uint32_t>(tick_part() * wire::peer_clock_steps));
    head.ahead = static_cast<std::int32_t>(std::floor(other.my_lead * wire::peer_clock_steps + 0.5));
    for (std::size_t i = 0; i < players(); ++i) {
        head.gone |= (others[i].gone ? 1U : 0U) << i;
        head.known[i] = rollback.known(i);
    }
    if (const Comparison* newest = comparison(next_comparison - compare_every)) {
        head.compared = newest->tick;
        head.digests = newest->digests;
    }
    // With many changes a tick not all may fit; the rest comes once these are known to have come.
    for (std::uint32_t most = wire::most_row; most > 0; most /= 2) {
        const std::span<std::byte> room(packet);
        wire::Writer writer(room.subspan(wire::envelope_bytes));
        wire::PeerHead told = head;
        wire::code(writer, told, players());
        wire::Model more{0x4000};
        for (std::size_t i = 0; i < players(); ++i) {
            const bool tells = i == config.own || (others[i].gone && i != to);
            const std::uint32_t known = rollback.known(i), from = other.known[i] + 1;
            if (!tells || from > known || known - from >= oldest_told) {
                continue;
            }
            bool any = true;
            writer.bit(more, any);
            wire::PeerRow row{static_cast<std::uint32_t>(i), from, std::min(most, known - from + 1)};
            wire::code(writer, row, head.now);
            wire::IntentModels models = wire::fresh_intent_models;
            StatedIntent before = rollback.intent(i, from - 1);
            for (std::uint32_t k = 0; k < row.count; ++k) {
                StatedIntent intent = rollback.intent(i, from + k);
                wire::code_intent(writer, models, intent, before);
                before = intent;
            }
        }
        bool any = false;
        writer.bit(more, any);
        const std::size_t size = wire::envelope_bytes + writer.finish();
        if (!writer.overflowed()) {
            wire::stamp(room.first(size), wire::Kind::peer_intents, key);
            return size;
        }
    }
    return 0;
}

}  // namespace cursimeter::link
