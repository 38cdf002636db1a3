// Which anchors stand on which line: all of them in one pass, by an automaton that is built as texts ask for it.
//
// Each state is looked up in a table by the class of the next byte. Eight parts of a text are gone through side by side,
// so that the processor need not wait for one look before it begins the next.
#pragma once

#include <algorithm>
#include <array>
#include <cstring>
#include <deque>
#include <iterator>
#include <map>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "bits.hpp"
#include "program.hpp"

namespace redact {

class Anchors {
  public:
    // With so many states at most, which take one or two thousand bytes each.
    explicit Anchors(size_t most_states = 1 << 16) : most_states_(most_states) {}
    // A copy would point at states of the other.
    Anchors(Anchors &&) = default;
    Anchors(const Anchors &) = delete;

    // A line with something on it: without its end. Behind `last` is no anchor's end any more.
    struct Line {
        size_t start, end;
        Bits bits;
        size_t last;

        void add(const Bits &more, size_t more_last) {
            bits |= more;
            last = std::max(last, more_last);
        }
    };

    // How an anchor is read: where a part may stand up to so often, as often as it likes, since a state for each time
    // would multiply with those of all others. A line more may then have it, which the detector looks at in vain.
    static constexpr bool LOOSELY = true;

    // `bits` is what it stands for. Throws Unread for a syntax that is not known here.
    void add(std::string_view pattern, const Bits &bits, bool loosely = false) {
        PatternReader::add(program_, pattern, static_cast<uint32_t>(stands_for_.size()), loosely);
        stands_for_.push_back(bits);
    }

    // No anchor is added any more.
    void finish() {
        make_classes();
        seen_.assign(program_.steps.size(), 0);
        closures_.resize(program_.steps.size());
        first_.resize(3 * width_);
        numbers_of_begun_[{}] = 0;
        begun_.push_back({{}, std::vector<uint32_t>(3 * width_)});
        forget();
    }

    // The lines on which there are anchors, in order.
    void lines(std::string_view text, std::vector<Line> &out) {
        Parts &parts = large_;
        const auto *begin = reinterpret_cast<const uint8_t *>(text.data()), *end = begin + text.size();
        const uint8_t *at = begin;
        for (size_t number = 0; number < PARTS; number++) {
            const uint8_t *stop = end;
            if (number + 1 < PARTS && text.size() >= SMALL) {
                const uint8_t *wanted = std::max(begin + text.size() * (number + 1) / PARTS, at);
                const void *found = std::memchr(wanted, '\n', end - wanted);
                if (found) stop = static_cast<const uint8_t *>(found) + 1;
            }
            parts[number].begin = parts[number].at = at;
            parts[number].end = at = stop;
            parts[number].base = begin;
            parts[number].state = 0;
            parts[number].found.clear();
        }
        together(parts);
        for (Part &part : parts) alone(part, parts);
        size_t found = out.size();
        for (const Part &part : parts) found += part.found.size();
        out.reserve(found);
        for (const Part &part : parts) out.insert(out.end(), part.found.begin(), part.found.end());
    }

    // What stands in a text that is looked at as one line.
    Bits within(std::string_view text) {
        Part &part = small_[0];
        part.base = part.begin = part.at = reinterpret_cast<const uint8_t *>(text.data());
        part.end = part.at + text.size();
        alone(part, small_);
        const Bits bits = part.found.empty() ? Bits() : part.found.front().bits;
        part.found.clear();
        return bits;
    }

    // How often there were more states than there may be, and all were forgotten.
    size_t times_full() const { return times_full_; }
    // How many states the texts so far have asked for.
    size_t states() const { return states_.size(); }

  private:
    static constexpr size_t PARTS = 8, SMALL = 4096, MOST_SETS = 60'000;
    static constexpr uint32_t SLOW = 1U << 31, HOMELESS = 1U << 30, NOT_YET = ~0U;
    // What was before: nothing (a line begins), a sign of a word, another one.
    enum Before : uint8_t { BEGIN, WORD, OTHER };

    // Which steps (of SIGNS and EDGE only) wait for the next sign: those of all anchors that began with the last one,
    // which are numbered since they depend on little, and those that were begun before.
    struct State {
        Before before;
        uint32_t begun;
        std::vector<uint32_t> older;
    };
    struct Part {
        const uint8_t *begin, *at, *end, *base;
        uint32_t state = 0;
        std::vector<Line> found;
    };
    using Parts = std::array<Part, PARTS>;
    struct HashOfState {
        size_t operator()(const State &state) const {
            uint64_t hash = state.before + 4 * static_cast<uint64_t>(state.begun);
            for (const uint32_t step : state.older) hash = (hash ^ step) * 0x9e3779b97f4a7c15ULL;
            return hash ^ (hash >> 29);
        }
    };
    struct SameState {
        bool operator()(const State &one, const State &other) const {
            return one.before == other.before && one.begun == other.begun && one.older == other.older;
        }
    };

    // Bytes that no pattern tells apart are one class; a line end is class 0.
    void make_classes() {
        std::map<std::vector<bool>, uint8_t> known;
        signs_.clear();
        signs_.push_back('\n');
        for (int sign = 0; sign < 256; sign++) {
            std::vector<bool> told{in_word(static_cast<char>(sign))};
            for (const Signs &set : program_.sets) told.push_back(set[sign]);
            if (sign == '\n') {
                class_of_[sign] = 0;
                continue;
            }
            auto [found, fresh] = known.try_emplace(told, static_cast<uint8_t>(signs_.size()));
            if (fresh) signs_.push_back(static_cast<uint8_t>(sign));
            class_of_[sign] = found->second;
        }
        width_ = signs_.size();
    }

    void forget() {
        full_ = false;
        states_.clear();
        numbers_.clear();
        table_.clear();
        said_.clear();
        many_.assign(1, Bits());
        numbers_of_bits_.clear();
        if (table_.capacity() < most_states_ * width_) {
            table_.reserve(most_states_ * width_);
            said_.reserve(most_states_ * width_);
        }
        number_of({BEGIN, 0, {}});
    }

    // Where a state begins in the table; or, if that is full, its place among those that have no home.
    uint32_t number_of(State state) {
        auto [found, fresh] = numbers_.try_emplace(std::move(state), static_cast<uint32_t>(table_.size()));
        if (!fresh) return found->second;
        if (states_.size() < most_states_) {
            states_.push_back(&found->first);
            table_.resize(table_.size() + width_, NOT_YET);
            said_.resize(said_.size() + width_, 0);
            return found->second;
        }
        full_ = true;
        homeless_.push_back(std::move(numbers_.extract(found).key()));
        return HOMELESS + static_cast<uint32_t>(homeless_.size() - 1);
    }

    // The table is full: all states are forgotten but those in which the parts are, so that they go on from there.
    void begin_anew(Parts &parts) {
        std::vector<State> states;
        for (const Part &part : parts)
            states.push_back(part.state & HOMELESS ? homeless_[part.state - HOMELESS] : *states_[part.state / width_]);
        homeless_.clear();
        forget();
        for (size_t number = 0; number < PARTS; number++) parts[number].state = number_of(std::move(states[number]));
        times_full_++;
    }

    void together(Parts &parts) {
        size_t left = parts[0].end - parts[0].at;
        for (const Part &part : parts) left = std::min<size_t>(left, part.end - part.at);
        const uint32_t *table = table_.data();
        const uint8_t *classes = class_of_.data();
        std::array<const uint8_t *, PARTS> at{};
        std::array<uint32_t, PARTS> in{}, to{};
        for (size_t number = 0; number < PARTS; number++) at[number] = parts[number].at;
        for (size_t place = 0; place < left; place++) {
            uint32_t any = 0;
            for (size_t number = 0; number < PARTS; number++) any |= to[number] = table[in[number] + classes[at[number][place]]];
            if (any & SLOW) [[unlikely]] to = slow_together(parts, in, to, place);
            in = to;
        }
        for (size_t number = 0; number < PARTS; number++) {
            parts[number].at += left;
            parts[number].state = in[number];
        }
    }

    // Where those go on that are in a state that is not known yet, or that finds something.
    [[gnu::noinline]] std::array<uint32_t, PARTS> slow_together(Parts &parts, const std::array<uint32_t, PARTS> &in,
                                                                std::array<uint32_t, PARTS> to, size_t place) {
        for (size_t number = 0; number < PARTS; number++) {
            if (!(to[number] & SLOW)) continue;
            const uint8_t *at = parts[number].at + place;
            to[number] = step(parts[number], in[number], class_of_[*at], at);
        }
        if (!full_) return to;
        for (size_t number = 0; number < PARTS; number++) parts[number].state = to[number];
        begin_anew(parts);
        for (size_t number = 0; number < PARTS; number++) to[number] = parts[number].state;
        return to;
    }

    void alone(Part &part, Parts &parts) {
        const uint32_t *table = table_.data();
        uint32_t state = part.state;
        for (; part.at < part.end; part.at++) {
            uint32_t to = table[state + class_of_[*part.at]];
            if (to & SLOW) [[unlikely]] {
                part.state = to = slow(part, state, part.at);
                if (full_) {
                    begin_anew(parts);
                    to = part.state;
                }
            }
            state = to;
        }
        part.state = 0;
        if (part.begin < part.end && part.end[-1] != '\n') {  // the last line has no end of its own
            step(part, state, 0, part.end);
            if (full_) begin_anew(parts);
        }
    }

    // What a step leads to that is not known yet, or that finds something.
    [[gnu::noinline]] uint32_t slow(Part &part, uint32_t state, const uint8_t *at) {
        return step(part, state, class_of_[*at], at);
    }

    // Where a step leads; what it finds is the part's.
    uint32_t step(Part &part, uint32_t state, uint8_t sign_class, const uint8_t *at) {
        const uint32_t to = table_[state + sign_class];
        if (to == NOT_YET) return build(part, state, sign_class, at);
        if (const uint16_t said = said_[state + sign_class]) add_found(part, at, many_[said]);
        return to & ~SLOW;
    }

    // Something is found on the line that has, or ends with, this sign.
    static void add_found(Part &part, const uint8_t *at, const Bits &bits) {
        const size_t place = at - part.base;
        if (!part.found.empty() && place <= part.found.back().end) {
            part.found.back().add(bits, place + 1);
            return;
        }
        const uint8_t *start = at;
        while (start > part.begin && start[-1] != '\n') start--;
        const void *end = std::memchr(at, '\n', part.end - at);
        part.found.push_back({static_cast<size_t>(start - part.base),
                              static_cast<size_t>((end ? static_cast<const uint8_t *>(end) : part.end) - part.base), bits, place + 1});
    }

    // What steps lead to with one more sign, in order; and what is found by it.
    struct Made {
        bool done = false;
        std::vector<uint32_t> steps;
        Bits found;
    };
    struct First {
        bool done = false;
        uint32_t begun = 0;
        Bits found;
    };
    struct Begun {
        std::vector<uint32_t> steps;
        std::vector<uint32_t> then;  // by what was before and the sign: the place in `then_`, 0 if that is not known yet
    };

    uint32_t build(Part &part, uint32_t state, uint8_t sign_class, const uint8_t *at) {
        const State &from = *states_[state / width_];
        const First first = first_with(from.before, sign_class);
        const Made &then = then_with(from.begun, from.before, sign_class);
        Bits found = first.found;
        found |= then.found;
        uint32_t to = 0;
        made_.steps.clear();
        made_.found = Bits();
        clock_++;
        for (const uint32_t step : from.older) go_on(step, from.before, sign_class, made_);
        found |= made_.found;
        if (sign_class != 0) {
            State next{word(sign_class) ? WORD : OTHER, first.begun, {}};
            if (made_.steps.empty()) {
                next.older = then.steps;
            } else {
                // What began with this very sign is in `begun` already.
                for (const uint32_t step : begun_[first.begun].steps) seen_[step] = clock_ + 1;
                std::erase_if(made_.steps, [&](uint32_t step) { return seen_[step] > clock_; });
                std::sort(made_.steps.begin(), made_.steps.end());
                std::set_union(made_.steps.begin(), made_.steps.end(), then.steps.begin(), then.steps.end(),
                               std::back_inserter(next.older));
                clock_++;
            }
            to = number_of(std::move(next));
        }
        const uint16_t said = number_of_bits(found);
        if (found.any()) add_found(part, at, found);
        if (full_) return to;
        said_[state + sign_class] = said;
        table_[state + sign_class] = to | (said ? SLOW : 0);
        return to;
    }

    // What all anchors that begin here lead to.
    const First &first_with(Before before, uint8_t sign_class) {
        First &first = first_[before * width_ + sign_class];
        if (first.done) return first;
        Made made;
        clock_++;
        for (const uint32_t start : program_.starts) {
            made.found |= closure(start).found;
            for (const uint32_t step : closure(start).steps) go_on(step, before, sign_class, made);
        }
        std::sort(made.steps.begin(), made.steps.end());
        auto [known, fresh] = numbers_of_begun_.try_emplace(made.steps, static_cast<uint32_t>(begun_.size()));
        if (fresh) begun_.push_back({made.steps, std::vector<uint32_t>(3 * width_)});
        return first = {true, known->second, made.found};
    }

    // What those lead to that began with the sign before, but for what begins with this one.
    const Made &then_with(uint32_t begun, Before before, uint8_t sign_class) {
        const uint32_t beginning = first_with(before, sign_class).begun;
        uint32_t &place = begun_[begun].then[before * width_ + sign_class];
        if (place) return then_[place - 1];
        then_.emplace_back();
        place = static_cast<uint32_t>(then_.size());
        Made &made = then_.back();
        clock_++;
        for (const uint32_t step : begun_[beginning].steps) seen_[step] = clock_;
        for (const uint32_t step : begun_[begun].steps) go_on(step, before, sign_class, made);
        std::sort(made.steps.begin(), made.steps.end());
        return made;
    }

    // A step of SIGNS or EDGE, and all that it leads to when this sign comes (class 0: the line ends).
    void go_on(uint32_t number, Before before, uint8_t sign_class, Made &made) {
        passed_.clear();
        follow(number, before, sign_class, made);
    }

    void follow(uint32_t number, Before before, uint8_t sign_class, Made &made) {
        const Program::Step &step = program_.steps[number];
        if (step.kind == Program::SIGNS) {
            if (sign_class == 0 || !program_.sets[step.what][signs_[sign_class]]) return;
            const Made &behind = closure(step.next);
            made.found |= behind.found;
            for (const uint32_t one : behind.steps) {
                if (seen_[one] == clock_) continue;
                seen_[one] = clock_;
                made.steps.push_back(one);
            }
        } else if (holds(step.what, before, sign_class) && is_new(number, passed_)) {
            const Made &behind = closure(step.next);
            made.found |= behind.found;
            for (const uint32_t one : behind.steps) follow(one, before, sign_class, made);
        }
    }

    // All steps of SIGNS and EDGE that a step leads to without a sign, and what is found without one.
    const Made &closure(uint32_t first) {
        Made &made = closures_[first];
        if (made.done) return made;
        made.done = true;
        std::vector<uint32_t> open{first}, ways;
        while (!open.empty()) {
            const uint32_t number = open.back();
            open.pop_back();
            const Program::Step &step = program_.steps[number];
            if (step.kind == Program::FOUND) {
                made.found |= stands_for_[step.what];
            } else if (step.kind == Program::WAYS) {
                if (!is_new(number, ways)) continue;
                open.push_back(step.next);
                open.push_back(step.other);
            } else {
                is_new(number, made.steps);
            }
        }
        return made;
    }

    static bool is_new(uint32_t number, std::vector<uint32_t> &known) {
        if (std::find(known.begin(), known.end(), number) != known.end()) return false;
        known.push_back(number);
        return true;
    }

    bool holds(uint32_t edge, Before before, uint8_t sign_class) const {
        switch (edge) {
            case Program::LINE_START:
                return before == BEGIN;
            case Program::LINE_END:
                return sign_class == 0;
            default: {
                const bool differs = (before == WORD) != word(sign_class);
                return differs == (edge == Program::WORD_EDGE);
            }
        }
    }

    bool word(uint8_t sign_class) const { return sign_class != 0 && in_word(static_cast<char>(signs_[sign_class])); }

    uint16_t number_of_bits(const Bits &bits) {
        if (!bits.any()) return 0;
        auto [found, fresh] = numbers_of_bits_.try_emplace(bits, static_cast<uint16_t>(many_.size()));
        if (fresh && many_.size() < MOST_SETS) {
            many_.push_back(bits);
        } else if (fresh) {
            numbers_of_bits_.erase(found);
            full_ = true;
            return 0;
        }
        return found->second;
    }

    size_t most_states_;
    Program program_;
    std::vector<Bits> stands_for_;
    std::array<uint8_t, 256> class_of_{};
    std::vector<uint8_t> signs_;  // one sign of each class
    size_t width_ = 1;

    std::vector<const State *> states_;  // the keys of `numbers_`
    std::unordered_map<State, uint32_t, HashOfState, SameState> numbers_;
    std::vector<uint32_t> table_;
    std::vector<uint16_t> said_;
    std::vector<Bits> many_;
    std::unordered_map<Bits, uint16_t, HashOfBits> numbers_of_bits_;

    std::vector<Made> closures_;  // by step
    std::vector<First> first_;    // by what was before and the sign
    std::vector<Begun> begun_;
    std::deque<Made> then_;
    std::map<std::vector<uint32_t>, uint32_t> numbers_of_begun_;

    std::vector<uint32_t> seen_, passed_;
    uint32_t clock_ = 0;
    Made made_;
    Parts small_, large_;  // their memory is used again
    bool full_ = false;
    size_t times_full_ = 0;
    std::vector<State> homeless_;
};

}  // namespace redact
