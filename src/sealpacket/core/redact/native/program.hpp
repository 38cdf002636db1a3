// Patterns taken apart into the steps of an automaton: RE2's syntax (github.com/google/re2/wiki/Syntax) over single
// bytes, without what anchors have no use for.
#pragma once

#include <bitset>
#include <cstdint>
#include <memory>
#include <optional>
#include <stdexcept>
#include <string_view>
#include <vector>

#include "terms.hpp"

namespace redact {

using Signs = std::bitset<256>;

struct Program {
    enum Kind : uint8_t { SIGNS, WAYS, EDGE, FOUND };
    enum Edge : uint8_t { LINE_START, LINE_END, WORD_EDGE, NO_WORD_EDGE };
    struct Step {
        Kind kind;
        uint32_t next, other;  // both ways; `other` of WAYS only
        uint32_t what;         // the number of a set of signs, an edge, or which pattern was found
    };
    std::vector<Step> steps;
    std::vector<Signs> sets;
    std::vector<uint32_t> starts;
};

// A pattern in a syntax that is not known here.
struct Unread : std::runtime_error {
    using std::runtime_error::runtime_error;
};

class PatternReader {
  public:
    static constexpr size_t MOST_STEPS = 100'000, MOST_TIMES = 1000;

    // Adds a pattern's steps to a program; `loosely`, with no end where a part may stand several times. Throws Unread, and
    // then the program is as it was.
    static void add(Program &program, std::string_view pattern, uint32_t number, bool loosely = false) {
        const size_t before = program.steps.size();
        try {
            PatternReader reader(program, pattern);
            reader.loosely_ = loosely;
            const Node whole = reader.ways();
            if (reader.at_ < pattern.size()) throw Unread("a bracket too many");
            program.starts.push_back(reader.build(whole, reader.step({Program::FOUND, 0, 0, number})));
        } catch (...) {
            program.steps.resize(before);
            throw;
        }
    }

  private:
    struct Node {
        enum Kind { NOTHING, SIGNS, EDGE, ROW, WAYS, TIMES } kind = NOTHING;
        uint32_t what = 0;
        size_t least = 0, most = 0;  // `most` 0: without end
        std::vector<Node> parts;
    };
    struct Flags {
        bool any_case = false, dot_is_all = false;
    };

    PatternReader(Program &program, std::string_view text) : program_(program), text_(text) {}

    bool more() const { return at_ < text_.size(); }
    bool next_is(char sign) const { return more() && text_[at_] == sign; }
    char take() {
        if (!more()) throw Unread("it ends too early");
        return text_[at_++];
    }

    Node ways() {
        const Flags outside = flags_;
        Node made{Node::WAYS};
        made.parts.push_back(row());
        while (next_is('|')) {
            at_++;
            made.parts.push_back(row());
        }
        flags_ = outside;
        return made;
    }

    Node row() {
        Node made{Node::ROW};
        while (more() && !next_is('|') && !next_is(')')) {
            std::optional<Node> one = atom();
            if (one) made.parts.push_back(repeated(std::move(*one)));
        }
        return made;
    }

    Node repeated(Node one) {
        while (more()) {
            size_t least = 0, most = 0;
            if (next_is('*') || next_is('+') || next_is('?')) {
                const char sign = take();
                least = sign == '+';
                most = sign == '?';
            } else if (!next_is('{') || !times(least, most)) {
                break;
            }
            if (next_is('?')) at_++;  // as few as possible: the same lines
            Node made{Node::TIMES};
            made.least = least;
            made.most = loosely_ && most > least + 1 ? 0 : most;
            made.parts.push_back(std::move(one));
            one = std::move(made);
        }
        return one;
    }

    // {2}, {2,} or {2,5}; anything else is a bracket like any sign.
    bool times(size_t &least, size_t &most) {
        size_t at = at_ + 1;
        const auto number = [&](size_t &value) {
            const size_t begin = at;
            for (value = 0; at < text_.size() && text_[at] >= '0' && text_[at] <= '9' && at - begin < 5; at++)
                value = value * 10 + (text_[at] - '0');
            return at > begin;
        };
        if (!number(least)) return false;
        bool open = false;
        most = least;
        if (at < text_.size() && text_[at] == ',') {
            at++;
            open = !number(most);
        }
        if (at >= text_.size() || text_[at] != '}') return false;
        if (least > MOST_TIMES || (!open && (most > MOST_TIMES || most < least))) throw Unread("too many times");
        if (!open && most == 0) throw Unread("no times at all");
        if (open) most = 0;
        at_ = at + 1;
        return true;
    }

    std::optional<Node> atom() {
        const char sign = take();
        switch (sign) {
            case '(':
                return group();
            case '[':
                return signs(among());
            case '.': {
                Signs all = Signs().set();
                if (!flags_.dot_is_all) all.reset('\n');
                return signs(all);
            }
            case '^':
                return edge(Program::LINE_START);
            case '$':
                return edge(Program::LINE_END);
            case '\\':
                return escaped();
            case '*':
            case '+':
            case '?':
                throw Unread("nothing to repeat");
            default:
                return literal(sign);
        }
    }

    std::optional<Node> group() {
        const Flags outside = flags_;
        if (next_is('?')) {
            at_++;
            if (next_is('P') || next_is('<')) {
                while (take() != '>') {
                }
            } else if (!read_flags()) {
                return std::nullopt;  // they hold for the rest of the group around them
            }
        }
        Node made = ways();
        if (take() != ')') throw Unread("a bracket is not closed");
        flags_ = outside;
        return made;
    }

    // Whether what they hold for follows: (?i:…) and not (?i).
    bool read_flags() {
        bool on = true;
        while (true) {
            switch (take()) {
                case 'i':
                    flags_.any_case = on;
                    break;
                case 's':
                    flags_.dot_is_all = on;
                    break;
                case 'm':
                case 'U':
                    break;
                case '-':
                    on = false;
                    break;
                case ':':
                    return true;
                case ')':
                    return false;
                default:
                    throw Unread("a flag that is not known");
            }
        }
    }

    std::optional<Node> escaped() {
        const char sign = take();
        switch (sign) {
            case 'b':
                return edge(Program::WORD_EDGE);
            case 'B':
                return edge(Program::NO_WORD_EDGE);
            case 'A':
                return edge(Program::LINE_START);
            case 'z':
                return edge(Program::LINE_END);
            default:
                at_--;
                return signs(escaped_signs());
        }
    }

    Signs escaped_signs() {
        const char sign = take();
        Signs made;
        switch (sign) {
            case 'd':
            case 'D':
                for (int one = '0'; one <= '9'; one++) made.set(one);
                return sign == 'd' ? made : ~made;
            case 'w':
            case 'W':
                for (int one = 0; one < 256; one++) made.set(one, in_word(static_cast<char>(one)));
                return sign == 'w' ? made : ~made;
            case 's':
            case 'S':
                for (const char one : {'\t', '\n', '\f', '\r', ' '}) made.set(one);
                return sign == 's' ? made : ~made;
            default:
                at_--;
                return only(escaped_sign());
        }
    }

    uint8_t escaped_sign() {
        const char sign = take();
        switch (sign) {
            case 'n':
                return '\n';
            case 'r':
                return '\r';
            case 't':
                return '\t';
            case 'f':
                return '\f';
            case 'v':
                return '\v';
            case 'a':
                return '\a';
            case 'x':
                return static_cast<uint8_t>(digit() * 16 + digit());
            default:
                if (in_run(sign)) throw Unread("an escape that is not known");
                return static_cast<uint8_t>(sign);
        }
    }

    int digit() {
        const char sign = lower(take());
        if (sign >= '0' && sign <= '9') return sign - '0';
        if (sign >= 'a' && sign <= 'f') return sign - 'a' + 10;
        throw Unread("no digit");
    }

    // A class in brackets, the first of which was taken.
    Signs among() {
        const bool none_of = next_is('^');
        if (none_of) at_++;
        Signs made;
        for (bool first = true; first || !next_is(']'); first = false) {
            if (next_is('[') && at_ + 1 < text_.size() && text_[at_ + 1] == ':') throw Unread("a named class");
            if (next_is('\\') && at_ + 1 < text_.size() && std::string_view("dDwWsS").find(text_[at_ + 1]) != std::string_view::npos) {
                at_++;
                made |= escaped_signs();
                continue;
            }
            const uint8_t from = one_of_class();
            uint8_t to = from;
            if (next_is('-') && at_ + 1 < text_.size() && text_[at_ + 1] != ']') {
                at_++;
                to = one_of_class();
            }
            if (to < from) throw Unread("a range the wrong way round");
            for (int sign = from; sign <= to; sign++) made.set(sign);
        }
        at_++;
        if (flags_.any_case) made = in_any_case(made);
        return none_of ? ~made : made;
    }

    uint8_t one_of_class() {
        const char sign = take();
        return sign == '\\' ? escaped_sign() : static_cast<uint8_t>(sign);
    }

    static Signs only(uint8_t sign) { return Signs().set(sign); }

    static Signs in_any_case(Signs some) {
        for (int small = 'a'; small <= 'z'; small++) {
            const bool either = some[small] || some[small - 32];
            some.set(small, either);
            some.set(small - 32, either);
        }
        return some;
    }

    Node literal(char sign) { return signs(only(static_cast<uint8_t>(sign))); }

    Node signs(Signs some) {
        if (flags_.any_case) some = in_any_case(some);
        Node made{Node::SIGNS};
        for (made.what = 0; made.what < program_.sets.size(); made.what++)
            if (program_.sets[made.what] == some) return made;
        program_.sets.push_back(some);
        return made;
    }

    static Node edge(Program::Edge which) { return Node{Node::EDGE, which, 0, 0, {}}; }

    uint32_t step(Program::Step one) {
        if (program_.steps.size() >= MOST_STEPS) throw Unread("it is too long");
        program_.steps.push_back(one);
        return static_cast<uint32_t>(program_.steps.size() - 1);
    }

    // The first step of a part behind which `next` comes.
    uint32_t build(const Node &node, uint32_t next) {
        switch (node.kind) {
            case Node::SIGNS:
                return step({Program::SIGNS, next, 0, node.what});
            case Node::EDGE:
                return step({Program::EDGE, next, 0, node.what});
            case Node::ROW:
                for (auto part = node.parts.rbegin(); part != node.parts.rend(); ++part) next = build(*part, next);
                return next;
            case Node::WAYS: {
                uint32_t first = build(node.parts.back(), next);
                for (auto part = node.parts.rbegin() + 1; part != node.parts.rend(); ++part) {
                    const uint32_t one = build(*part, next);
                    first = step({Program::WAYS, one, first, 0});
                }
                return first;
            }
            case Node::TIMES:
                return build_times(node, next);
            default:
                return next;
        }
    }

    uint32_t build_times(const Node &node, uint32_t next) {
        const Node &part = node.parts[0];
        uint32_t first = next;
        if (node.most == 0) {
            first = step({Program::WAYS, 0, next, 0});
            const uint32_t again = build(part, first);
            program_.steps[first].next = again;
        }
        for (size_t more = node.least; more < node.most; more++) {
            const uint32_t one = build(part, first);
            first = step({Program::WAYS, one, next, 0});
        }
        for (size_t time = 0; time < node.least; time++) first = build(part, first);
        return first;
    }

    Program &program_;
    std::string_view text_;
    size_t at_ = 0;
    bool loosely_ = false;
    Flags flags_;
};

}  // namespace redact
