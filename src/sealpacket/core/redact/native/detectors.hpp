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
#include "shares.hpp"
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
    bool sure, lines, plainly, ours;
    std::string before, behind;  // the pattern before its group and from it on, where nothing else stands behind it
    // A pattern with a cue is searched in two steps: the cue, then the rest behind it, which has the group. Between the two
    // may be a gap of any text, for which one automaton would need a state for each place in it.
    std::string cue{}, told{}, told_plain{};
    size_t gap = 0;
    mutable std::unique_ptr<RE2> judge{}, head{}, rest{}, alone{}, cue_alone{}, told_alone{};  // compiled when they are asked for
    const Secrets *natively = nullptr;  // what `accept` is, if it is native

    bool accepts(std::string_view value) const {
        if (natively) return natively->accepts(value);
        return accept.is_none() || py::bool_(accept(py::bytes(value.data(), value.size())));
    }

    // The value within a match of a text; empty if there is none. The part before the group is matched first, without
    // groups, which is faster. Only where the rest does not match behind it is the whole pattern matched with its groups.
    std::string_view value_in(std::string_view text, const Candidate &match) const {
        if (whole) return text.substr(match.start, match.end - match.start);
        re2::StringPiece groups[2];
        if (!judge) compile();
        if (in_steps()) {
            size_t start = 0, end = 0;
            if (!find_told(text, match.start, match.end, start, end)) return {};
            judge->Match(piece(text), start, end, RE2::ANCHOR_BOTH, groups, 2);
            return groups[1].data() ? std::string_view(groups[1].data(), groups[1].size()) : std::string_view();
        }
        if (head && head->Match(piece(text), match.start, match.end, RE2::ANCHOR_START, groups, 1)) {
            const size_t start = match.start + groups[0].size();
            if (rest->Match(piece(text), start, match.end, RE2::ANCHOR_BOTH, nullptr, 0)) return text.substr(start, match.end - start);
        }
        if (judge->Match(piece(text), match.start, match.end, RE2::ANCHOR_BOTH, groups, 2) && groups[1].data())
            return {groups[1].data(), groups[1].size()};
        return {};
    }

    // The next match between two places.
    bool next(std::string_view text, size_t pos, size_t stop, Candidate &hit) const {
        if (pos > stop) return false;
        if (in_steps()) return next_in_steps(text, pos, stop, hit);
        re2::StringPiece found;
        if (!ready(alone, plain).Match(piece(text), pos, stop, RE2::UNANCHORED, &found, 1)) return false;
        hit.start = found.data() - text.data();
        hit.end = hit.start + found.size();
        return true;
    }

    bool is_whole(std::string_view text) const {
        return RE2::FullMatch(piece(text), ready(alone, plain));
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

    static constexpr int64_t MEMORY = 8 << 20;  // what an automaton may take

  private:
    bool in_steps() const { return !cue.empty(); }

    // A pattern, compiled when it is asked for first.
    static const RE2 &ready(std::unique_ptr<RE2> &pattern, const std::string &written) {
        if (!pattern) pattern = compiled(written, MEMORY);
        return *pattern;
    }

    bool next_in_steps(std::string_view text, size_t pos, size_t stop, Candidate &hit) const {
        const RE2 &tells = ready(cue_alone, cue);
        re2::StringPiece found;
        while (pos < stop && tells.Match(piece(text), pos, stop, RE2::UNANCHORED, &found, 1)) {
            const size_t begins = found.data() - text.data();
            size_t start = 0;
            if (find_told_behind(text, begins + found.size(), stop, start, hit.end)) {
                hit.start = begins;
                return true;
            }
            pos = begins + std::max<size_t>(found.size(), 1);
        }
        return false;
    }

    // Where the part behind the cue lies in a match.
    bool find_told(std::string_view text, size_t pos, size_t stop, size_t &start, size_t &end) const {
        re2::StringPiece found;
        return ready(cue_alone, cue).Match(piece(text), pos, stop, RE2::ANCHOR_START, &found, 1) &&
               find_told_behind(text, pos + found.size(), stop, start, end);
    }

    bool find_told_behind(std::string_view text, size_t pos, size_t stop, size_t &start, size_t &end) const {
        re2::StringPiece found;
        const RE2::Anchor where = gap ? RE2::UNANCHORED : RE2::ANCHOR_START;
        if (!ready(told_alone, told_plain).Match(piece(text), pos, stop, where, &found, 1)) return false;
        start = found.data() - text.data();
        end = start + found.size();
        return start <= pos + gap && text.substr(pos, start - pos).find_first_of("\r\n") == std::string_view::npos;
    }

    void compile() const {
        judge = compiled(in_steps() ? told : pattern, MEMORY);
        if (in_steps() || behind.empty()) return;
        head = compiled(before, MEMORY);
        rest = compiled(behind, MEMORY);
    }
};

class Detectors {
  public:
    static constexpr int LEAVE = 255;
    static constexpr int64_t WHOLE = 1 << 30, LARGE = 64 << 20, SMALL = Detector::MEMORY;
    static constexpr size_t LONG = 16;  // a run with so many signs is searched alone
    // What a line may have beside values that stand there plainly.
    enum Flag { MARKS = 1, TOKENS = 2, SPACED = 4, LINES = 8, NAMES = 16, PAIRS = 32 };
    static constexpr size_t FLAGS = 6;

    // `before` and `behind` are the pattern before its group and from it on, where nothing else stands behind the group.
    // `lines`: over how many lines it may run: 0 for none, 1 for a few, 2 for many. `cue`, `gap` and `told` (`told_plain`
    // without groups): see Detector.
    void add_detector(int kind, const std::string &pattern, const std::string &plain, bool whole, py::object accept,
                      py::object canonical, bool sure, int lines, bool plainly, bool ours, const std::string &before,
                      const std::string &behind, const std::string &cue, size_t gap, const std::string &told,
                      const std::string &told_plain) {
        if (detectors.size() + EXTRA >= Bits::MOST) throw py::value_error("there are too many detectors");
        Detector made{kind, pattern, plain, whole, std::move(accept), std::move(canonical),
                      sure, lines > 0, plainly, ours, before, behind, cue, told, told_plain, gap};
        if (lines > 1) over_many_lines.set(detectors.size());
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
        for (size_t place = 0; place < detectors.size(); place++) {
            const Detector &one = detectors[place];
            if (one.kind == LEAVE) leaving_.set(place);
            if (one.lines)
                lines_.set(place);
            else
                all_.set(place);
        }
        std::string unread;
        odd_chosen_ = std::make_unique<RE2::Set>(options(LARGE), RE2::UNANCHORED);
        for (size_t place = 0; place < expressions_.size(); place++) {
            const std::string &one = expressions_[place];
            try {
                if (in_runs_[place])
                    run_anchors_.add(one, bits_of_[place], Anchors::LOOSELY);
                else
                    anchors_on_lines_.add(one, bits_of_[place], Anchors::LOOSELY);
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

    // Those that say what is to be left alone.
    const Bits &leaving() const { return leaving_; }

    // The detectors whose pattern is the whole text, in their order, until one is taken.
    template <typename Take>
    void each_whole(std::string_view text, Take &&take) {
        std::vector<Anchors::Line> found;
        lines(text, found);
        Bits some;
        for (const Anchors::Line &line : found) some |= line.bits;
        bool taken = false;
        (some & detectors_and_terms()).each([&](size_t place) {
            if (!taken && place < detectors.size() && detectors[place].is_whole(text)) taken = take(place);
        });
    }

    // Those whose matches may go over the ends of lines.
    const Bits &over_lines() const { return lines_; }

    static constexpr size_t EXTRA = 8, TERM = Bits::MOST - 1;
    std::vector<Detector> detectors;
    Bits over_many_lines;

  private:
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
    SharedAnchors anchors_on_lines_;
    Anchors run_anchors_;
    std::vector<Bits> bits_of_;
    Bits leaving_, all_, lines_, every_;
    std::unique_ptr<RE2> odd_anchor_;
    std::unique_ptr<RE2::Set> odd_chosen_;
    std::vector<size_t> odd_;
};

}  // namespace redact
