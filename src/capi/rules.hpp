#pragma once

#include <cursimeter/cursimeter_link.h>

#include <cstring>
#include <cursimeter/link/server.hpp>

#include "capi/advancers.hpp"

namespace cursimeter::capi {

/// What a C program decides for a server: who may join, and who is told of whom.
class CalledRules final : public link::Admission, public link::Interest {
  public:
    void take_in(const cursimeter_rules& rules) noexcept { rules_ = rules; }
    [[nodiscard]] Verdict look_at(const link::Applicant& applicant,
                                  std::string_view& words) noexcept override {
        const cursimeter_applicant told{sizeof(told),
                                        applicant.peer.value,
                                        applicant.identity,
                                        applicant.ticket.data(),
                                        applicant.ticket.size(),
                                        applicant.seat ? applicant.seat->index : -1,
                                        static_cast<std::uint32_t>(applicant.players)};
        words_[0] = words_[most_words] = '\0';
        const int verdict = rules_.look_at(rules_.user, &told, words_);
        words = {words_, strnlen(words_, most_words)};
        // What is no verdict lets nobody in.
        return verdict == CURSIMETER_LET_IN ? Verdict::let_in
               : verdict == CURSIMETER_WAIT ? Verdict::wait
                                            : Verdict::turn_away;
    }
    [[nodiscard]] double concern(link::SeatId seat, link::RunnerKey runner) noexcept override {
        return rules_.concern(rules_.user, seat.index, key_of(runner));
    }

  private:
    static constexpr std::size_t most_words = 100;
    cursimeter_rules rules_ = CURSIMETER_RULES_INIT;
    char words_[most_words + 1]{};
};

}  // namespace cursimeter::capi
