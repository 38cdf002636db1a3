// Which anchors stand on which line: all of them in one pass, by an automaton that is built as texts ask for it.
//
// Each state is looked up in a table by the class of the next byte. Four parts of a text are gone through side by side,
// so that the processor need not wait for one look before it begins the next.
#pragma once

#include <algorithm>
#include <array>
#include <cstring>
#include <map>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "bits.hpp"
#include "program.hpp"

namespace redact {

class Anchors {
  public:
    // A line with something on it: without its end.
    struct Line {
        size_t start, end;
        Bits bits;
    };

    // `bits` is what it stands for. Throws Unread for a syntax that is not known here.
    void add(std::string_view pattern, const Bits &bits) {
        PatternReader::add(program_, pattern, static_cast<uint32_t>(stands_for_.size()));
        stands_for_.push_back(bits);
    }

    // No anchor is added any more.
    void finish() {
        make_classes();
        seen_.assign(program_.steps.size(), 0);
        forget();
    }

    // The lines on which there are anchors, in order. False where a text asks for more states than there may be.
    bool lines(std::string_view text, std::vector<Line> &out) {
        if (full_) forget();
        std::array<Part, PARTS> parts;
        const auto *begin = reinterpret_cast<const uint8_t *>(text.data()), *end = begin + text.size();
        const uint8_t *at = begin;
        for (size_t number = 0; number < PARTS; number++) {
            const uint8_t *stop = end;
            if (number + 1 < PARTS && text.size() >= SMALL) {
                const uint8_t *wanted = std::max(begin + text.size() * (number + 1) / PARTS, at);
                const void *found = std::memchr(wanted, '\n', end - wanted);
                if (found) stop = static_cast<const uint8_t *>(found) + 1;
            }
            parts[number].at = parts[number].line = at;
            parts[number].end = at = stop;
            parts[number].base = begin;
        }
        together(parts);
        for (Part &part : parts) alone(part);
        if (full_) return false;
        for (Part &part : parts) out.insert(out.end(), part.found.begin(), part.found.end());
        return true;
    }

  private:
    static constexpr size_t PARTS = 4, SMALL = 4096, MOST_STATES = 1 << 15, MOST_SETS = 60'000;
    static constexpr uint32_t SLOW = 1U << 31, NOT_YET = ~0U;
    // What was before: nothing (a line begins), a sign of a word, another one.
    enum Before : uint8_t { BEGIN, WORD, OTHER };

    struct State {
        Before before;
        std::vector<uint32_t> steps;  // of SIGNS and EDGE only
    };
    struct Part {
        const uint8_t *at, *end, *line, *base;
        uint32_t state = 0;
        Bits bits;
        std::vector<Line> found;
    };
    struct HashOfState {
        size_t operator()(const State &state) const {
            uint64_t hash = state.before;
            for (const uint32_t step : state.steps) hash = (hash ^ step) * 0x9e3779b97f4a7c15ULL;
            return hash ^ (hash >> 29);
        }
    };
    struct SameState {
        bool operator()(const State &one, const State &other) const {
            return one.before == other.before && one.steps == other.steps;
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
        table_.reserve(MOST_STATES * width_);
        said_.reserve(MOST_STATES * width_);
        fresh_.assign(3 * width_, {});
        number_of({BEGIN, {}});
    }

    // Where a state begins in the table.
    uint32_t number_of(State state) {
        auto [found, fresh] = numbers_.try_emplace(state, static_cast<uint32_t>(table_.size()));
        if (fresh && states_.size() < MOST_STATES) {
            states_.push_back(std::move(state));
            table_.resize(table_.size() + width_, NOT_YET);
            said_.resize(said_.size() + width_, 0);
        } else if (fresh) {
            numbers_.erase(found);
            full_ = true;
            return 0;  // too many: what is found from here on does not count
        }
        return found->second;
    }

    void together(std::array<Part, PARTS> &parts) {
        static_assert(PARTS == 4);
        size_t left = parts[0].end - parts[0].at;
        for (const Part &part : parts) left = std::min<size_t>(left, part.end - part.at);
        const uint32_t *table = table_.data();
        const uint8_t *classes = class_of_.data();
        const uint8_t *a = parts[0].at, *b = parts[1].at, *c = parts[2].at, *d = parts[3].at;
        uint32_t in_a = 0, in_b = 0, in_c = 0, in_d = 0;
        for (size_t place = 0; place < left; place++) {
            uint32_t to_a = table[in_a + classes[a[place]]], to_b = table[in_b + classes[b[place]]];
            uint32_t to_c = table[in_c + classes[c[place]]], to_d = table[in_d + classes[d[place]]];
            if ((to_a | to_b | to_c | to_d) & SLOW) [[unlikely]] {
                if (to_a & SLOW) to_a = slow(parts[0], in_a, a + place);
                if (to_b & SLOW) to_b = slow(parts[1], in_b, b + place);
                if (to_c & SLOW) to_c = slow(parts[2], in_c, c + place);
                if (to_d & SLOW) to_d = slow(parts[3], in_d, d + place);
            }
            in_a = to_a, in_b = to_b, in_c = to_c, in_d = to_d;
        }
        const std::array<uint32_t, PARTS> states{in_a, in_b, in_c, in_d};
        for (size_t number = 0; number < PARTS; number++) {
            parts[number].at += left;
            parts[number].state = states[number];
        }
    }

    void alone(Part &part) {
        const uint32_t *table = table_.data();
        uint32_t state = part.state;
        for (; part.at < part.end; part.at++) {
            uint32_t to = table[state + class_of_[*part.at]];
            if (to & SLOW) [[unlikely]] to = slow(part, state, part.at);
            state = to;
        }
        if (part.line < part.end) {  // the last line has no end of its own
            part.bits |= many_[said_of(state, 0)];
            line_ends(part, part.end);
        }
    }

    // What a step leads to that is not known yet, that finds something, or that ends a line.
    [[gnu::noinline]] uint32_t slow(Part &part, uint32_t state, const uint8_t *at) {
        const uint8_t sign_class = class_of_[*at];
        const uint16_t said = said_of(state, sign_class);
        if (said) part.bits |= many_[said];
        if (*at == '\n') line_ends(part, at);
        return table_[state + sign_class] & ~SLOW;
    }

    uint16_t said_of(uint32_t state, uint8_t sign_class) {
        if (table_[state + sign_class] == NOT_YET) build(state, sign_class);
        return said_[state + sign_class];
    }

    static void line_ends(Part &part, const uint8_t *at) {
        if (part.bits.any())
            part.found.push_back({static_cast<size_t>(part.line - part.base), static_cast<size_t>(at - part.base), part.bits});
        part.bits = Bits();
        part.line = at + 1;
    }

    struct Made {
        bool done = false;
        std::vector<uint32_t> steps;
        Bits found;
    };

    void build(uint32_t state, uint8_t sign_class) {
        const State from = states_[state / width_];
        Made made = fresh(from.before, sign_class);
        clock_++;
        for (const uint32_t step : made.steps) seen_[step] = clock_;
        // What was begun before goes on; what was seen once need not be looked at again.
        for (const uint32_t step : from.steps) go_on(step, from.before, sign_class, made);
        uint32_t to = 0;
        if (sign_class != 0) {
            std::sort(made.steps.begin(), made.steps.end());
            to = number_of({word(sign_class) ? WORD : OTHER, std::move(made.steps)});
        }
        const uint16_t said = number_of_bits(made.found);
        said_[state + sign_class] = said;
        table_[state + sign_class] = to | (said || sign_class == 0 ? SLOW : 0);
    }

    // What all anchors that begin here lead to.
    const Made &fresh(Before before, uint8_t sign_class) {
        Made &made = fresh_[before * width_ + sign_class];
        if (made.done) return made;
        made.done = true;
        clock_++;
        for (const uint32_t start : program_.starts) {
            reached_.clear();
            reach(start, made);
            const std::vector<uint32_t> firsts = reached_;
            for (const uint32_t step : firsts) go_on(step, before, sign_class, made);
        }
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
            reached_.clear();
            reach(step.next, made);
            for (const uint32_t one : reached_) {
                if (seen_[one] == clock_) continue;
                seen_[one] = clock_;
                made.steps.push_back(one);
            }
        } else if (holds(step.what, before, sign_class) && is_new(number, passed_)) {
            reached_.clear();
            reach(step.next, made);
            const std::vector<uint32_t> behind = reached_;
            for (const uint32_t one : behind) follow(one, before, sign_class, made);
        }
    }

    // All steps of SIGNS and EDGE that a step leads to without a sign, into `reached_`; what is found goes into `made`.
    void reach(uint32_t first, Made &made) {
        std::vector<uint32_t> open{first};
        std::vector<uint32_t> ways;
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
                reached_.push_back(number);
            }
        }
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

    Program program_;
    std::vector<Bits> stands_for_;
    std::array<uint8_t, 256> class_of_{};
    std::vector<uint8_t> signs_;  // one sign of each class
    size_t width_ = 1;

    std::vector<State> states_;
    std::unordered_map<State, uint32_t, HashOfState, SameState> numbers_;
    std::vector<uint32_t> table_;
    std::vector<uint16_t> said_;
    std::vector<Bits> many_;
    std::unordered_map<Bits, uint16_t, HashOfBits> numbers_of_bits_;
    std::vector<Made> fresh_;

    std::vector<uint32_t> seen_, reached_, passed_;
    uint32_t clock_ = 0;
    bool full_ = false;
};

}  // namespace redact
