// What is looked for by its form: detectors with their anchors. Built once and read-only then, but for what is made when
// texts ask for it: automata and compiled patterns. All scanners with the same detectors share them. Whoever searches
// holds the interpreter's lock, and nothing here calls back into it in the middle of a change.
#pragma once

#include <pybind11/pybind11.h>
#include <re2/re2.h>
#include <re2/set.h>

#include <algorithm>
#include <bit>
#include <memory>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "anchors.hpp"
#include "bits.hpp"
#include "patterns.hpp"
#include "secrets.hpp"
#include "terms.hpp"

namespace redact {

namespace py = pybind11;

struct Detector {
    int kind;             // its place among the kinds; LEAVE where it only says: this is nothing
    std::string pattern;  // with one group, the value
    std::string plain;    // the same without groups
    bool whole;           // the value is the whole match
    py::object accept;
    py::object canonical;  // a function, or the name of one that is native
    bool sure, lines, plainly;
    std::string before, behind;  // the pattern before its group and from it on, where nothing else stands behind it
    mutable std::unique_ptr<RE2> judge{}, head{}, rest{}, alone{};  // compiled when they are asked for
    const Secrets *natively = nullptr;  // what `accept` is, if it is native

    bool accepts(std::string_view value) const {
        if (natively) return natively->accepts(value);
        return accept.is_none() || py::bool_(accept(py::bytes(value.data(), value.size())));
    }

    // The value within a match. What stands before the group is matched alone first, which needs no groups: where the
    // rest then is the rest, it is what the whole would have given; else the whole is asked.
    std::string_view value_in(std::string_view match) const {
        if (whole) return match;
        re2::StringPiece groups[2];
        if (!judge) compile();
        if (head && head->Match(piece(match), 0, match.size(), RE2::ANCHOR_START, groups, 1) &&
            rest->Match(piece(match), groups[0].size(), match.size(), RE2::ANCHOR_BOTH, groups + 1, 1))
            return match.substr(groups[0].size());
        if (judge->Match(piece(match), 0, match.size(), RE2::ANCHOR_BOTH, groups, 2) && groups[1].data())
            return {groups[1].data(), groups[1].size()};
        return match;
    }

    static constexpr int64_t MEMORY = 8 << 20;  // what an automaton may take
    void compile() const {
        judge = compiled(pattern, MEMORY);
        if (behind.empty()) return;
        head = compiled(before, MEMORY);
        rest = compiled(behind, MEMORY);
    }

    // What all spellings of a value have in common; nothing if it has one only.
    std::optional<std::string> same(std::string_view value) const {
        if (canonical.is_none()) return std::nullopt;
        std::string made(value);
        if (!py::isinstance<py::str>(canonical))
            return py::bytes(canonical(py::bytes(value.data(), value.size()))).cast<std::string>();
        for (char &sign : made) sign = lower(sign);
        const auto how = canonical.cast<std::string_view>();
        if (how == "host") made.resize(std::min(made.find('.'), made.size()));
        if (how == "mac") std::erase_if(made, [](char sign) { return sign == ':' || sign == '-' || sign == '.'; });
        return made;
    }
};

// Which of many patterns are the whole of a text. Most texts begin with a digit and are addresses or numbers: few patterns
// begin so, and these are a set of their own.
class Chooser {
  public:
    explicit Chooser(const std::vector<std::string> &patterns) {
        for (size_t place = 0; place < patterns.size(); place++) add(patterns[place], static_cast<int>(place));
        all_.set.Compile();
        digits_.set.Compile();
    }

    // Their places in order; false if there was no memory to tell.
    bool match(std::string_view text, std::vector<int> &out) const {
        const bool begins_with_digit = !text.empty() && text[0] >= '0' && text[0] <= '9';
        const Some &some = begins_with_digit ? digits_ : all_;
        RE2::Set::ErrorInfo error{RE2::Set::kNoError};
        if (!some.set.Match(piece(text), &out, &error) && error.kind != RE2::Set::kNoError) return false;
        for (int &number : out) number = some.places[number];
        std::sort(out.begin(), out.end());
        return true;
    }

  private:
    static constexpr int64_t MEMORY = 64 << 20;
    struct Some {
        RE2::Set set{options(MEMORY), RE2::ANCHOR_BOTH};
        std::vector<int> places{};
    };

    void add(const std::string &pattern, int place) {
        if (all_.set.Add(piece(pattern), nullptr) < 0) throw py::value_error("pattern: " + pattern);
        all_.places.push_back(place);
        if (!may_begin_with_digit(pattern)) return;
        digits_.set.Add(piece(pattern), nullptr);
        digits_.places.push_back(place);
    }

    static bool may_begin_with_digit(const std::string &pattern) {
        std::string least, most;
        if (!RE2(piece(pattern), options(RANGE)).PossibleMatchRange(&least, &most, 1)) return true;
        return least <= "9" && most >= "0";
    }
    static constexpr int64_t RANGE = 8 << 20;

    Some all_, digits_;
};

class Detectors;

// Where the detectors of a set match: the first place counts, and there the first detector.
class Matcher {
  public:
    Matcher(const Detectors &by, const Bits &wanted, const RE2 *whole) : by_(&by), wanted_(wanted), whole_(whole) {}

    // The first match between two places. Places are asked about from left to right.
    bool next(std::string_view text, size_t pos, size_t stop, Candidate &hit);
    // A match that begins here.
    bool here(std::string_view text, size_t start, size_t stop, size_t &end) const;

  private:
    struct Next {
        size_t place;
        Candidate hit;
    };

    const Detectors *by_;
    Bits wanted_;
    const RE2 *whole_;
    std::vector<Next> nexts_;  // of each detector that still has one
    bool begun_ = false;
};

class Detectors {
  public:
    static constexpr int LEAVE = 255;
    static constexpr int64_t WHOLE = 1 << 30, LARGE = 64 << 20, SMALL = Detector::MEMORY;
    static constexpr size_t LONG = 16;  // a run with so many signs is searched alone
    static constexpr size_t MOST_SETS = 20'000, MOST_PATTERNS = 300, OFTEN = 512;
    // What a line may have beside values that stand there plainly.
    enum Flag { MARKS = 1, TOKENS = 2, SPACED = 4, LINES = 8, NAMES = 16, PAIRS = 32 };
    static constexpr size_t FLAGS = 6;

    // `before` and `behind` are the pattern before its group and from it on, where nothing else stands behind the group.
    // `looks_far`: the value may stand far behind its label, with almost any text between the two.
    // `lines`: over how many lines it may run: 0 for none, 1 for a few, 2 for many.
    void add_detector(int kind, const std::string &pattern, const std::string &plain, bool whole, py::object accept,
                      py::object canonical, bool sure, int lines, bool plainly, bool looks_far,
                      const std::string &before, const std::string &behind) {
        if (detectors.size() + EXTRA >= Bits::MOST) throw py::value_error("there are too many detectors");
        Detector made{kind, pattern, plain, whole, std::move(accept), std::move(canonical),
                      sure, lines > 0, plainly, before, behind};
        if (lines > 1) over_many_lines.set(detectors.size());
        if (looks_far) far.set(detectors.size());
        if (asks_for_borders(plain)) bordered.set(detectors.size());
        if (py::isinstance<Secrets>(made.accept)) made.natively = made.accept.cast<const Secrets *>();
        detectors.push_back(std::move(made));
    }

    // `detector`: its place, or -1 with the flag of a coat. `in_run`: it holds so many signs of a run that it is looked
    // for in long runs only; one automaton with the others would have a state for each sign of any word.
    void add_anchor(const std::string &expression, int detector, int flag, bool in_run) {
        auto [found, fresh] = anchors_.try_emplace(expression, bits_of_.size());
        if (fresh) {
            bits_of_.emplace_back();
            expressions_.push_back(expression);
            in_runs_.push_back(in_run);
        }
        if (detector >= 0)
            bits_of_[found->second].set(detector);
        else
            for (size_t place = 0; place < FLAGS; place++)
                if (flag >> place & 1) bits_of_[found->second].set(Bits::MOST - 2 - place);
    }

    // No detector is added any more.
    void finish() {
        std::vector<std::string> patterns;
        for (size_t place = 0; place < detectors.size(); place++) {
            const Detector &one = detectors[place];
            patterns.push_back(one.plain);
            if (one.kind == LEAVE) always_.set(place);
            if (one.lines)
                lines_.set(place);
            else
                all_.set(place);
            if (one.plainly) plainly.set(place);
        }
        {
            const py::gil_scoped_release others_go_on;
            chooser_ = std::make_unique<const Chooser>(patterns);
        }
        plainly.set(TERM);
        std::string unread;
        odd_chosen_ = std::make_unique<RE2::Set>(options(LARGE), RE2::UNANCHORED);
        for (size_t place = 0; place < expressions_.size(); place++) {
            const std::string &one = expressions_[place];
            try {
                (in_runs_[place] ? run_anchors_ : anchors_on_lines_).add(one, bits_of_[place]);
            } catch (const Unread &) {  // RE2 looks for it
                std::string error;
                if (odd_chosen_->Add(piece(one), &error) < 0) throw py::value_error("anchor " + one + ": " + error);
                unread += (unread.empty() ? "(?:" : "|(?:") + one + ")";
                odd_.push_back(place);
            }
        }
        anchors_on_lines_.finish();
        run_anchors_.finish();
        odd_chosen_->Compile();
        if (!odd_.empty()) odd_anchor_ = compiled(unread, LARGE);
        for (auto &bits : bits_of_) every_ |= bits;
        every_ |= all_;
        every_ |= lines_;
    }

    // The lines on which there are anchors, in order.
    void lines(std::string_view text, std::vector<Anchors::Line> &out) {
        anchors_on_lines_.lines(text, out);
        add_lines_of_runs(text, out);
        if (odd_anchor_) add_odd_lines(text, out);
    }

    // The detectors with an anchor in a stretch of a line.
    Bits anchored_in(std::string_view stretch) { return anchors_on_lines_.within(stretch) & all_; }

    // All detectors that look within one line, and all that there are.
    const Bits &all() const { return all_; }
    const Bits &every() const { return every_; }

    // The detectors of a kind.
    Bits of_kind(int kind) const {
        Bits made;
        for (size_t place = 0; place < detectors.size(); place++)
            if (detectors[place].kind == kind) made.set(place);
        return made;
    }

    // What is flagged beside the detectors; the bits keep detectors and terms only.
    int flags_of(Bits &bits) const {
        int flags = (bits & lines_).any() ? LINES : 0;
        for (size_t place = 0; place < FLAGS; place++)
            if (bits.has(Bits::MOST - 2 - place)) flags |= 1 << place;
        bits = bits & detectors_and_terms();
        return flags;
    }

    // A matcher for these detectors, without those that run over lines. It tries each alone; a set that is asked for
    // often becomes one pattern. At most MOST_PATTERNS are made, and each is kept.
    Matcher matcher(const Bits &bits) {
        Bits wanted = bits;
        wanted |= always_;
        wanted = wanted & all_;
        auto found = sets_.find(wanted);
        if (found == sets_.end()) {
            if (sets_.size() >= MOST_SETS) return Matcher(*this, wanted, nullptr);
            found = sets_.emplace(wanted, Set{}).first;
        }
        Set &set = found->second;
        if (!set.pattern && ++set.asked >= OFTEN && patterns_ < MOST_PATTERNS) {
            patterns_++;
            set.pattern = compiled(together(wanted), SMALL);
        }
        return Matcher(*this, wanted, set.pattern.get());
    }

    const RE2 &over_lines() {
        if (!over_lines_) {
            std::string together;
            for (const Detector &one : detectors)
                if (one.lines) together += (together.empty() ? "(?:" : "|(?:") + one.plain + ")";
            over_lines_ = compiled(together.empty() ? "[^\\x00-\\xff]" : together, SMALL);
        }
        return *over_lines_;
    }

    // The compiled pattern of one detector.
    const RE2 &alone(size_t place) const {
        const Detector &one = detectors[place];
        if (!one.alone) one.alone = compiled(one.plain, SMALL);
        return *one.alone;
    }

    // Whether a pattern is still the whole text where it stands: `edges` says whether a line begins and ends there.
    bool holds(size_t place, std::string_view text, int edges) const {
        if (!bordered.has(place) || edges == 3) return true;
        const char no_border = '\x01';  // neither a line's end nor a sign of a word
        std::string there(!(edges & 1), no_border);
        const size_t start = there.size();
        there.append(text);
        const size_t end = there.size();
        if (!(edges & 2)) there.push_back(no_border);
        return alone(place).Match(piece(there), start, end, RE2::ANCHOR_BOTH, nullptr, 0);
    }

    // The detectors whose pattern is the whole text, in their order.
    std::vector<int> chosen_for(std::string_view text) const {
        std::vector<int> made;
        if (!chooser_->match(text, made))
            for (size_t place = 0; place < detectors.size(); place++)
                if (RE2::FullMatch(piece(text), alone(place))) made.push_back(static_cast<int>(place));
        return made;
    }

    static constexpr size_t EXTRA = 8, TERM = Bits::MOST - 1;
    std::vector<Detector> detectors;
    Bits plainly, over_many_lines;
    Bits far;  // what tells of a value may stand anywhere before it
    Bits bordered;  // what asks somewhere whether a line begins or ends

  private:
    struct Set {
        std::unique_ptr<RE2> pattern;
        size_t asked = 0;
    };

    static bool asks_for_borders(std::string_view pattern) {
        return pattern.find("m:^") != std::string_view::npos || pattern.find("m:$") != std::string_view::npos;
    }

    std::string together(const Bits &wanted) const {
        std::string made;
        for (size_t place = 0; place < detectors.size(); place++)
            if (wanted.has(place)) made += (made.empty() ? "(?:" : "|(?:") + detectors[place].plain + ")";
        return made.empty() ? "[^\\x00-\\xff]" : made;
    }

    // The same for anchors within runs, of which only the long ones are looked at.
    void add_lines_of_runs(std::string_view text, std::vector<Anchors::Line> &out) {
        constexpr size_t BEHIND = 4;  // what an anchor may ask for behind a run
        const size_t before = out.size();
        size_t floor = 0, line_end = 0;
        uint64_t here = signs_of_runs(text, 0);
        for (size_t base = 0; base < text.size(); base += 64) {
            const uint64_t next = signs_of_runs(text, base + 64);
            for (uint64_t begins = beginning_of_runs(here, next); begins; begins &= begins - 1) {
                size_t begin = base + std::countr_zero(begins);
                if (begin < floor) continue;
                size_t end = begin + LONG;
                while (begin > floor && in_long_run(text[begin - 1])) begin--;
                while (end < text.size() && in_long_run(text[end])) end++;
                floor = end;
                const size_t from = begin - (begin > 0 && text[begin - 1] != '\n');
                size_t stop = end;
                while (stop < text.size() && stop < end + BEHIND && text[stop] != '\n') stop++;
                const Bits bits = run_anchors_.within(text.substr(from, stop - from));
                if (!bits.any()) continue;
                if (out.size() > before && begin < line_end) {
                    out.back().add(bits, stop);
                    continue;
                }
                size_t start = begin;
                while (start > line_end && text[start - 1] != '\n') start--;
                line_end = std::min(text.find('\n', end), text.size());
                out.push_back({start, line_end, bits, stop});
            }
            here = next;
        }
        put_in_order(out, before);
    }

    static bool in_long_run(char sign) { return in_run(sign) || sign == '+' || sign == '/' || sign == '_' || sign == '-'; }

    // Of sixty-four signs from a place on, which may stand in a long run: a bit for each.
    static uint64_t signs_of_runs(std::string_view text, size_t at) {
        if (at + 64 <= text.size()) return runs_of(text.data() + at) | any_of(text.data() + at, "+/_-");
        uint64_t mask = 0;
        for (size_t place = at; place < text.size() && place < at + 64; place++)
            mask |= static_cast<uint64_t>(in_long_run(text[place])) << (place - at);
        return mask;
    }

    // Where in the first sixty-four signs LONG of them begin, one behind the other.
    static uint64_t beginning_of_runs(uint64_t here, uint64_t next) {
        static_assert(LONG == 16);
        unsigned __int128 signs = static_cast<unsigned __int128>(next) << 64 | here;
        for (size_t many = 1; many < LONG; many *= 2) signs &= signs >> many;
        return static_cast<uint64_t>(signs);
    }

    // Lines found since `before` put among the others.
    static void put_in_order(std::vector<Anchors::Line> &out, size_t before) {
        if (out.size() == before) return;
        std::inplace_merge(out.begin(), out.begin() + before, out.end(),
                           [](const auto &one, const auto &other) { return one.start < other.start; });
        size_t kept = 0;
        for (size_t place = 1; place < out.size(); place++) {
            if (out[place].start == out[kept].start)
                out[kept].add(out[place].bits, out[place].last);
            else if (++kept != place)
                out[kept] = out[place];
        }
        out.resize(kept + 1);
    }

    // The same for anchors that only RE2 can read.
    void add_odd_lines(std::string_view text, std::vector<Anchors::Line> &out) const {
        const size_t before = out.size();
        re2::StringPiece hit;
        std::vector<int> found;
        for (size_t pos = 0; odd_anchor_->Match(piece(text), pos, text.size(), RE2::UNANCHORED, &hit, 1);) {
            const size_t at = hit.data() - text.data(), cut = at == 0 ? std::string_view::npos : text.rfind('\n', at - 1);
            const size_t start = cut == std::string_view::npos ? 0 : cut + 1, end = std::min(text.find('\n', at), text.size());
            RE2::Set::ErrorInfo error{RE2::Set::kNoError};
            Bits bits;
            if (odd_chosen_->Match(piece(text.substr(start, end - start)), &found, &error))
                for (const int place : found) bits |= bits_of_[odd_[place]];
            out.push_back({start, end, error.kind == RE2::Set::kNoError ? bits : every_, end});
            pos = end + 1;
            if (pos > text.size()) break;
        }
        put_in_order(out, before);
    }

    Bits detectors_and_terms() const {
        Bits made = all_;
        made |= lines_;
        made.set(TERM);
        return made;
    }

    std::unordered_map<std::string, size_t> anchors_;
    std::vector<std::string> expressions_;
    std::vector<bool> in_runs_;
    Anchors anchors_on_lines_, run_anchors_;
    std::vector<Bits> bits_of_;
    Bits always_, all_, lines_, every_;
    std::unique_ptr<RE2> odd_anchor_, over_lines_;
    std::unique_ptr<RE2::Set> odd_chosen_;
    std::unique_ptr<const Chooser> chooser_;
    std::vector<size_t> odd_;
    std::unordered_map<Bits, Set, HashOfBits> sets_;
    size_t patterns_ = 0;
};

inline bool matches(const RE2 &pattern, std::string_view text, size_t pos, size_t stop, Candidate &hit) {
    re2::StringPiece found;
    if (pos > stop || !pattern.Match(piece(text), pos, stop, RE2::UNANCHORED, &found, 1)) return false;
    hit.start = found.data() - text.data();
    hit.end = hit.start + found.size();
    return true;
}

inline bool Matcher::next(std::string_view text, size_t pos, size_t stop, Candidate &hit) {
    if (whole_) return matches(*whole_, text, pos, stop, hit);
    if (!begun_) {
        for (size_t place = 0; place < by_->detectors.size(); place++) {
            Candidate first{};
            if (wanted_.has(place) && matches(by_->alone(place), text, pos, stop, first)) nexts_.push_back({place, first});
        }
        begun_ = true;
    }
    const Next *best = nullptr;
    for (size_t at = 0; at < nexts_.size();) {
        Next &one = nexts_[at];
        if (one.hit.start < pos && !matches(by_->alone(one.place), text, pos, stop, one.hit)) {
            nexts_.erase(nexts_.begin() + at);
            continue;
        }
        at++;
    }
    for (const Next &one : nexts_)
        if (!best || one.hit.start < best->hit.start) best = &one;
    if (best) hit = best->hit;
    return best;
}

inline bool Matcher::here(std::string_view text, size_t start, size_t stop, size_t &end) const {
    re2::StringPiece found;
    const auto match = [&](const RE2 &pattern) {
        if (!pattern.Match(piece(text), start, stop, RE2::ANCHOR_START, &found, 1)) return false;
        end = start + found.size();
        return true;
    };
    if (whole_) return match(*whole_);
    for (size_t place = 0; place < by_->detectors.size(); place++)
        if (wanted_.has(place) && match(by_->alone(place))) return true;
    return false;
}

}  // namespace redact
