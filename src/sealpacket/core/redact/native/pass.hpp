// One pass over texts: where something stands, what it is, and the copy without it.
#pragma once

#include <cstring>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "coats.hpp"
#include "labels.hpp"
#include "legend.hpp"
#include "names.hpp"
#include "scanner.hpp"
#include "wrapping.hpp"

namespace redact {

// What a text was judged to be. Remembered for each different text.
struct Verdict {
    bool something = false, leave = false, kept = false, sure = true, soft = false;
    size_t by = 0;     // the detector that said so
    size_t noted = 0;  // its number in the legend and one more; 0 while it is not there
    int kind = 0;
    uint32_t holders = 0;
    size_t start = 0, end = 0, length = 0;
    std::string both;                      // the text, so long, and the placeholder behind it
    std::optional<std::string> canonical;  // if it is not the value itself

    void forget() {
        std::string emptied = std::move(both);
        emptied.clear();
        *this = Verdict();
        both = std::move(emptied);
    }
    std::string_view text() const { return std::string_view(both).substr(0, length); }
    std::string_view placeholder() const { return std::string_view(both).substr(length); }
};

// Holds a verdict; counts its holders without the cost of several threads, since Python lets in one only.
class Judged {
  public:
    Judged() = default;
    // A verdict that says nothing yet.
    static Judged fresh() {
        Judged made;
        if (spare_.empty()) {
            made.verdict_ = new Verdict();
        } else {
            made.verdict_ = spare_.back().release();
            spare_.pop_back();
        }
        made.hold();
        return made;
    }
    Judged(const Judged &other) : verdict_(other.verdict_) { hold(); }
    Judged(Judged &&other) noexcept : verdict_(std::exchange(other.verdict_, nullptr)) {}
    Judged &operator=(Judged other) noexcept {
        std::swap(verdict_, other.verdict_);
        return *this;
    }
    ~Judged() {
        if (verdict_ && !--verdict_->holders) let_go();
    }
    Verdict *operator->() const { return verdict_; }
    explicit operator bool() const { return verdict_; }

  private:
    void hold() const {
        if (verdict_) verdict_->holders++;
    }
    // The memory of those that nobody holds is used again.
    void let_go() {
        constexpr size_t MOST = 1024, LONGEST = 1024;
        std::unique_ptr<Verdict> done(verdict_);
        if (spare_.size() >= MOST || done->both.capacity() > LONGEST) return;
        done->forget();
        spare_.push_back(std::move(done));
    }

    Verdict *verdict_ = nullptr;
    static inline std::vector<std::unique_ptr<Verdict>> spare_;
};

// Verdicts by their text, in rows of a few. What was not met for long is forgotten: what is kept goes to the front of its
// row, and the last of the row goes. There are few rows at first.
class Memory {
  public:
    static constexpr size_t LONGEST = 512;
    // `most` rows, a power of two as FEWEST is.
    explicit Memory(size_t most) : most_(most) {}

    const Judged *find(std::string_view text, size_t by, uint64_t hash) {
        Slot *row = row_of(hash);
        for (Slot *slot = row; slot < row + ROW; slot++) {
            if (slot->hash != hash || !slot->verdict || slot->verdict->by != by || slot->verdict->text() != text) continue;
            std::rotate(row, slot, slot + 1);
            return &row->verdict;
        }
        return nullptr;
    }
    const Judged *keep(Judged verdict, uint64_t hash) {
        if (++kept_ > slots_.size() && slots_.size() < most_ * ROW) grow();
        Slot *row = row_of(hash);
        std::rotate(row, row + ROW - 1, row + ROW);
        *row = {hash, std::move(verdict)};
        return &row->verdict;
    }

  private:
    static constexpr size_t ROW = 4, FEWEST = 64, TIMES = 2;
    struct Slot {
        uint64_t hash = 0;
        Judged verdict;
    };
    Slot *row_of(uint64_t hash) { return slots_.data() + (hash & (slots_.size() / ROW - 1)) * ROW; }

    // Those of one row come into one of so many others, in the order in which they were.
    void grow() {
        std::vector<Slot> before(slots_.size() * TIMES);
        before.swap(slots_);
        kept_ = 0;
        for (Slot &slot : before) {
            if (!slot.verdict) continue;
            Slot *row = row_of(slot.hash);
            while (row->verdict) row++;
            *row = std::move(slot);
            kept_++;
        }
    }

    size_t most_, kept_ = 0;
    std::vector<Slot> slots_ = std::vector<Slot>(FEWEST * ROW);
};

// A stretch that is replaced: found here, or given by Python (what was beneath a coat, say).
struct Found {
    size_t start, end;
    Judged verdict;
    py::object given;
};

struct Spans {
    std::vector<Found> all;
};

class Pass {
  public:
    static constexpr size_t OVER_A_LINE = 1 << 10, OVER_MANY_LINES = 64 << 10;
    static constexpr size_t AS_TERM = Bits::MOST;  // in the place of a detector's: only terms are asked
    static constexpr size_t TITLE = 6;  // what may stand before a name that is known: Prof.

    // `special(start, end, limit, bits, flags, depth)` gives the spans of a line that needs more than a plain look;
    // `reason(value, reason)` is told what is kept; `given(span)` counts a span that Python gave; `fold` folds case
    // beyond ASCII; `span` is the type of a span.
    Pass(std::shared_ptr<Scanner> scanner, std::shared_ptr<Labels> labels, std::shared_ptr<Legend> legend,
         py::object special, py::object reason, py::object given, py::object fold, py::object span,
         std::vector<std::string> kinds)
        : scanner_(std::move(scanner)), by_(*scanner_->by), labels_(std::move(labels)), legend_(std::move(legend)), special_(std::move(special)),
          reason_(std::move(reason)), given_(std::move(given)), fold_(std::move(fold)),
          span_(std::move(span)), kinds_(std::move(kinds)), counts_(kinds_.size()), kept_(kinds_.size()) {
        for (size_t place = 0; place < kinds_.size(); place++) {
            names_.push_back(py::str(kinds_[place]));
            const std::string &kind = kinds_[place];
            soft_.push_back(kind == "user" || kind == "person" || kind == "host" || kind == "address");
            named_.push_back(kind == "user" || kind == "host" || kind == "licence" || kind == "asset" || kind == "contract" ||
                             kind == "reader");
            if (kind == "host") host_ = static_cast<int>(place);
            if (kind == "person") of_people_ = by_.of_kind(static_cast<int>(place));
        }
    }

    // What is replaced, in order and without overlaps; with `all_special`, every line goes to `special`.
    Spans lines(const py::bytes &buffer, size_t limit, int depth, bool all_special) {
        const std::string_view text = buffer;
        Spans spans;
        if (depth_ == looks_.size()) looks_.emplace_back(std::make_unique<Look>());
        Look &look = *looks_[depth_++];
        look.begin(text);
        try {
            walk(look, limit, depth, all_special, spans.all);
        } catch (...) {
            depth_--;
            throw;
        }
        wrapped = std::move(look.wrapped);
        dumped = std::move(look.dumped);
        paired = std::move(look.paired);
        depth_--;
        return spans;
    }

    // What stands plainly between two places of the buffer that `special` is asked about, or begins there and goes over
    // the end of its line.
    Spans between(size_t pos, size_t stop, size_t limit, size_t bits) {
        if (!depth_) throw py::value_error("between is asked from within special only");
        Spans spans;
        search(*looks_[depth_ - 1], pos, stop, stop, limit, combinations_.at(bits), spans.all, true);
        return spans;
    }

    // (start, end, kind, canonical, kept, sure, placeholder, leave), or None if it is nothing.
    py::object verdict(const std::string &text) {
        const Judged one = judged_alone(text);
        if (!one->something) return py::none();
        const std::string_view value = std::string_view(text).substr(one->start, one->end - one->start);
        const std::string_view canonical = one->canonical ? std::string_view(*one->canonical) : value;
        py::object kept = py::none(), kind = one->leave ? py::object(py::str("leave")) : names_[one->kind];
        if (one->kept) kept = py::str(reason_of(value, canonical, one->kind));
        return py::make_tuple(one->start, one->end, kind, as_bytes(canonical), kept, one->sure, as_bytes(one->placeholder()));
    }

    // What is known and stands in a text that nobody can read: kind, placeholder, original.
    py::list known(const std::string &text) {
        py::list made;
        for (const Candidate &one : std::vector<Candidate>(known_candidates(text))) {
            const std::string original = text.substr(one.start, one.end - one.start);
            const Judged verdict = judged_alone(original);
            if (!verdict->something || verdict->leave || verdict->kept) continue;
            made.append(py::make_tuple(names_[verdict->kind], as_bytes(verdict->placeholder()), py::bytes(original)));
        }
        return made;
    }

    // The ends of lines over which something known may go.
    std::vector<size_t> broken(const LineEnds &ends) const {
        std::vector<size_t> found;
        scanner_->terms.find_broken(ends.text, ends.all, found);
        return found;
    }

    py::list listed(const Spans &spans) const {
        py::list made;
        for (const Found &one : spans.all) made.append(as_span(one));
        return made;
    }

    static Spans from(const py::list &list) {
        Spans made;
        for (const py::handle one : list) {
            auto span = py::reinterpret_borrow<py::tuple>(one);
            made.all.push_back({span[0].cast<size_t>(), span[1].cast<size_t>(), {},
                                py::reinterpret_borrow<py::object>(one)});
        }
        return made;
    }

    // These and more, in order; of two that overlap the longer stays, and of the other what sticks out.
    static Spans together(const Spans &spans, const py::list &more) {
        Spans all = from(more), chosen;
        all.all.insert(all.all.begin(), spans.all.begin(), spans.all.end());
        std::stable_sort(all.all.begin(), all.all.end(), [](const Found &one, const Found &other) {
            return one.start != other.start ? one.start < other.start : one.end > other.end;
        });
        for (Found &one : all.all) {
            const size_t free = chosen.all.empty() ? 0 : chosen.all.back().end;
            if (one.end <= free) continue;
            if (one.start < free) {
                one.start = free;
                if (!one.verdict) one.given = one.given.attr("_replace")(py::arg("start") = free);
            }
            chosen.all.push_back(std::move(one));
        }
        return chosen;
    }

    // These without those that lie within any of some stretches, which are in order.
    static Spans outside(const Spans &spans, const std::vector<std::pair<size_t, size_t>> &stretches) {
        Spans made;
        for (const Found &one : spans.all) {
            const auto next = std::upper_bound(stretches.begin(), stretches.end(), one.start,
                                               [](size_t place, const auto &stretch) { return place < stretch.first; });
            if (next == stretches.begin() || one.end > std::prev(next)->second) made.all.push_back(one);
        }
        return made;
    }

    // Count what is replaced and note the originals.
    void account(const py::bytes &buffer, const Spans &spans) {
        const std::string_view text = buffer;
        for (const Found &one : spans.all) {
            if (!one.verdict) {
                given_(one.given, buffer);
                continue;
            }
            counts_[one.verdict->kind]++;
            if (one.verdict->noted && legend_->count(one.verdict->noted - 1)) continue;
            const std::string_view original = text.substr(one.start, one.end - one.start), written = one.verdict->placeholder();
            one.verdict->noted = 1 + (labels_->written_alone()
                                          ? legend_->add(written, original)
                                          : legend_->add(labels_->noted(kinds_[one.verdict->kind], written), original));
        }
    }

    // The buffer up to a limit with all spans replaced.
    py::bytes compose(const py::bytes &buffer, const Spans &spans, size_t limit) const {
        const std::string_view text = buffer;
        size_t size = limit;
        for (const Found &one : spans.all) size = size - (one.end - one.start) + instead(one).size();
        py::bytes made = py::reinterpret_steal<py::bytes>(PyBytes_FromStringAndSize(nullptr, size));
        char *out = PyBytes_AS_STRING(made.ptr());
        size_t done = 0;
        for (const Found &one : spans.all) {
            const std::string_view text_instead = instead(one);
            std::memcpy(out, text.data() + done, one.start - done);
            out += one.start - done;
            std::memcpy(out, text_instead.data(), text_instead.size());
            out += text_instead.size();
            done = one.end;
        }
        std::memcpy(out, text.data() + done, limit - done);
        return made;
    }

    // One record for each span: see RECORD in engine.py.
    py::bytes records(const py::bytes &buffer, const Spans &spans, uint64_t bytes_in, uint64_t bytes_out,
                      uint32_t line) const {
        const std::string_view text = buffer;
        std::string made;
        made.reserve(spans.all.size() * 29);
        size_t seen = 0;
        uint64_t written = bytes_out;
        for (const Found &one : spans.all) {
            line += std::count(text.begin() + seen, text.begin() + one.start, '\n');
            written += one.start - (seen_end_of(spans, &one));
            put(made, bytes_in + one.start);
            put(made, static_cast<uint32_t>(one.end - one.start));
            put(made, written);
            put(made, static_cast<uint32_t>(instead(one).size()));
            put(made, line);
            made.push_back(static_cast<char>(number(one)));
            written += instead(one).size();
            seen = one.start;
        }
        return made;
    }

    // What was counted since it was taken last: (kind, replaced, kept).
    py::list take_counts() {
        py::list made;
        for (size_t kind = 0; kind < kinds_.size(); kind++) {
            if (counts_[kind] || kept_[kind]) made.append(py::make_tuple(names_[kind], counts_[kind], kept_[kind]));
            counts_[kind] = kept_[kind] = 0;
        }
        return made;
    }

    std::vector<size_t> wrapped;  // where in the last buffer lines begin that are nothing but base64
    std::vector<size_t> dumped;   // and those on which bytes may be written one by one
    std::vector<size_t> paired;   // and those with a value that may stand beside its name

  private:
    struct Line {
        size_t start, end;
        Bits bits;
        size_t last;  // behind it is no anchor's end
        int flags;
    };

    struct Plain {
        size_t combination, start, end, last;
    };

    // What a detector or a term says of a place.
    struct Claim {
        size_t context, until;  // the match
        size_t start, end;      // the value's place in it
        Judged verdict;
        bool known, plain;  // a term or under our own domains; a form of its own, or a label that gives anything but a secret
        bool goes = false;

        size_t length() const { return end - start; }
        // Of two that say something of the same bytes the better one: what is known, then what is sure.
        int rank() const { return 2 * known + verdict->sure; }
    };

    // What is to be left alone. It hides what begins within it, and what begins where it does if that sees no further or
    // says the same of the value; but not what is known, if it is no placeholder.
    struct Left {
        size_t start, value, end;
        bool value_alone;  // what tells of it is farther away, with other things between

        bool hides(const Claim &claim, std::string_view text) const {
            if (claim.known && text[start] != '[') return false;
            const bool same = claim.start == value && claim.end == end;
            if (value_alone) return same;
            if (claim.context != start) return claim.context > start && claim.context < end;
            return same || claim.until <= end;
        }
    };

    // A buffer that is looked at; one may be opened within another (what is beneath a coat). The memory is used again.
    struct Look {
        std::string_view text;
        std::vector<Candidate> terms;
        std::vector<size_t> wrapped, dumped, paired;
        std::vector<Anchors::Line> anchored;
        std::vector<Line> lines;
        std::vector<Plain> plain;
        std::vector<Claim> claims{};  // of one line
        std::vector<Left> left{};     // what is to be left alone on it

        void begin(std::string_view buffer) {
            text = buffer;
            terms.clear();
            wrapped.clear();
            dumped.clear();
            paired.clear();
            anchored.clear();
            lines.clear();
            plain.clear();
        }
    };

    // Where in a text that nobody can read something long enough may be known.
    const std::vector<Candidate> &known_candidates(std::string_view text) {
        constexpr size_t LONG_ENOUGH = 8;
        beneath_.clear();
        scanner_->terms.find(text, beneath_);
        std::erase_if(beneath_, [](const Candidate &one) { return one.end - one.start < LONG_ENOUGH; });
        return beneath_;
    }

    // Each step goes over all lines before the next begins: automata stay in the processor's cache.
    void walk(Look &look, size_t limit, int depth, bool all_special, std::vector<Found> &out) {
        scanner_->terms.find(look.text, look.terms);
        list_lines_with_something(look, limit);
        for (Line &line : look.lines) {
            line.flags = by_.flags_of(line.bits);
            if ((line.bits & of_people_).any() && has_three_names(look.text.substr(line.start, line.end - line.start)))
                line.flags |= Detectors::NAMES;
            if (line.flags & Detectors::PAIRS) look.paired.push_back(line.start);
            line.flags &= ~Detectors::PAIRS;
            if (line.flags & Detectors::SPACED) look.dumped.push_back(line.start);
            if (!(line.flags & Detectors::TOKENS)) continue;
            const std::string_view text = look.text.substr(line.start, line.end - line.start);
            if (is_wrapped_base64(text)) look.wrapped.push_back(line.start);
            const auto knows = [this](const std::string &beneath) { return !known_candidates(beneath).empty(); };
            if (!scanner_->everywhere && !may_wear_coat(text, space_, knows)) line.flags &= ~Detectors::TOKENS;
        }
        size_t pos = 0;
        for (const Line &line : look.lines) {
            if (line.end <= pos && pos > 0) continue;
            const size_t start = std::max(line.start, pos);
            if (start >= limit) break;
            if (line.flags || (all_special && line.bits.any())) {
                py::list spans = special_(start, line.end, limit, combination(line.bits), line.flags, depth);
                for (Found &one : from(spans).all) {
                    pos = one.end;
                    out.push_back(std::move(one));
                }
            } else if (line.bits.any()) {
                look.plain.push_back({combination(line.bits), start, line.end, line.last});
            }
        }
        search_alike(look, limit, out);
    }

    // Lines that the same detectors are tried on, one after the other: their automaton stays in the cache, too.
    void search_alike(Look &look, size_t limit, std::vector<Found> &out) {
        std::sort(look.plain.begin(), look.plain.end(),
                         [](const Plain &one, const Plain &other) {
                      return std::pair(one.combination, one.start) < std::pair(other.combination, other.start);
                  });
        for (const Plain &line : look.plain) {
            const Bits bits = combinations_[line.combination];
            search(look, line.start, line.end, line.last, limit, bits, out);
        }
        std::sort(out.begin(), out.end(), [](const Found &one, const Found &other) { return one.start < other.start; });
    }

    void list_lines_with_something(Look &look, size_t limit) const {
        constexpr size_t NONE = std::string_view::npos;
        const std::string_view text = look.text;
        const std::vector<Anchors::Line> &anchored = look.anchored;
        scanner_->lines(text, look.anchored);
        size_t next = 0, term = 0;
        while (next < anchored.size() || term < look.terms.size()) {
            const size_t known = term < look.terms.size() ? look.terms[term].start : NONE;
            Line line{};
            if (next < anchored.size() && anchored[next].start <= known) {
                line = {anchored[next].start, anchored[next].end, anchored[next].bits, anchored[next].last, 0};
                next++;
            } else {
                const size_t cut = known == 0 ? NONE : text.rfind('\n', known - 1);
                line = {cut == NONE ? 0 : cut + 1, std::min(text.find('\n', known), text.size()), {}, 0, 0};
                if (next < anchored.size() && anchored[next].start == line.start) {
                    line.bits = anchored[next].bits;
                    line.last = anchored[next++].last;
                }
            }
            if (line.start >= limit) break;
            if (known < line.end) line.bits.set(Detectors::TERM);
            while (term < look.terms.size() && look.terms[term].start <= line.end) term++;
            look.lines.push_back(line);
        }
    }

    size_t combination(const Bits &bits) {
        auto [found, fresh] = places_.try_emplace(bits, combinations_.size());
        if (fresh) combinations_.push_back(bits);
        return found->second;
    }

    // What stands between two places of a line. Every detector is asked for all of its matches, the terms for theirs;
    // what they say is united. Behind `last` is no anchor's end, so that no match begins there. With `over`, also what goes
    // over the end of the line.
    void search(Look &look, size_t pos, size_t stop, size_t last, size_t limit, const Bits &bits, std::vector<Found> &out,
                bool over = false) {
        look.claims.clear();
        look.left.clear();
        if (over) {
            (bits & by_.over_lines()).each([&](size_t place) {
                const size_t reach = by_.over_many_lines.has(place) ? OVER_MANY_LINES : OVER_A_LINE;
                ask(look, place, pos, std::min(stop + reach, look.text.size()), stop + 1);
            });
        }
        const Bits here = bits & by_.all();
        here.each([&](size_t place) {
            if (!by_.leaving().has(place)) ask(look, place, pos, stop, last);
        });
        if (bits.has(Detectors::TERM)) ask_terms(look, pos, stop);
        if (look.claims.empty()) return;
        (here & by_.leaving()).each([&](size_t place) { ask(look, place, pos, stop, last); });
        drop_what_is_left(look);
        drop_what_is_known_better(look);
        unite(look, limit, out);
    }

    // All matches of a detector that its judge takes for a value.
    void ask(Look &look, size_t place, size_t pos, size_t stop, size_t last) {
        const std::string_view text = look.text;
        Candidate match{};
        while (pos < stop && pos < last && by_.detectors[place].next(text, pos, stop, match) && match.start < last) {
            const Judged verdict = judged(text, match, place);
            if (!verdict->something) {
                pos = match.start + 1;
                while (pos < match.end && in_run(text[match.start]) && in_run(text[pos])) pos++;
                continue;
            }
            const size_t start = match.start + verdict->start, end = match.start + verdict->end;
            if (verdict->leave)
                look.left.push_back({match.start, start, end, by_.detectors[place].gap > 0});
            else
                look.claims.push_back({match.start, match.end, start, end, verdict, by_.detectors[place].ours, by_.detectors[place].plainly});
            // A value may be the label of the next one.
            pos = verdict->start ? start : std::max(end, match.start + 1);
        }
    }

    void ask_terms(Look &look, size_t pos, size_t stop) {
        auto term = std::lower_bound(look.terms.begin(), look.terms.end(), pos,
                                     [](const Candidate &one, size_t place) { return one.start < place; });
        for (; term != look.terms.end() && term->start < stop; ++term) {
            if (term->end > stop) continue;
            const Judged verdict = judged(look.text, *term, AS_TERM);
            if (verdict->something)
                look.claims.push_back({term->start, term->end, term->start, term->end, verdict, true, true});
        }
    }

    // What is left alone hides, and what is a part of something that is kept, is nothing.
    void drop_what_is_left(Look &look) {
        for (Claim &claim : look.claims) {
            claim.goes = claim.verdict->kept;
            for (const Left &left : look.left) claim.goes = claim.goes || left.hides(claim, look.text);
        }
        for (const Claim &kept : look.claims) {
            if (!kept.verdict->kept) continue;
            bool counted = true;
            for (Claim &claim : look.claims) {
                if (&claim == &kept) continue;
                const bool within = claim.start >= kept.start && claim.end <= kept.end;
                if (within && !claim.verdict->kept) claim.goes = true;
                const bool around = claim.start <= kept.start && claim.end >= kept.end;
                if (around && !claim.goes && claim.length() > kept.length()) counted = false;
                if (around && claim.verdict->kept && (claim.length() > kept.length() || &claim < &kept)) counted = false;
            }
            if (counted) kept_[kept.verdict->kind]++;
        }
        std::erase_if(look.claims, [](const Claim &one) { return one.goes; });
    }

    // Where a label alone says that someone or something is named, what is known or has a form of its own comes first:
    // `owner = Marit Oswin` is a person whom we know, not a user called Marit.
    static void drop_what_is_known_better(Look &look) {
        for (Claim &claim : look.claims) {
            if (!claim.verdict->soft || claim.known) continue;
            const bool labelled = claim.start > claim.context;
            claim.goes = std::any_of(look.claims.begin(), look.claims.end(), [&](const Claim &other) {
                if (&other == &claim || !(other.known || (labelled && other.plain && other.context == claim.start))) return false;
                return other.start >= claim.start && other.start <= claim.start + TITLE && other.start < claim.end &&
                       other.end >= claim.end;
            });
        }
        std::erase_if(look.claims, [](const Claim &one) { return one.goes; });
    }

    // From left to right the longest of those that begin at a place. Of one that overlaps it what sticks out, if there is
    // a letter or a digit in it and none that stands there whole says more of it.
    void unite(Look &look, size_t limit, std::vector<Found> &out) {
        std::stable_sort(look.claims.begin(), look.claims.end(), [](const Claim &one, const Claim &other) {
            if (one.start != other.start) return one.start < other.start;
            return one.end != other.end ? one.end > other.end : one.rank() > other.rank();
        });
        const auto is_empty = [&](size_t start, size_t end) {
            return start >= end || std::none_of(look.text.begin() + start, look.text.begin() + end, is_letter_or_digit);
        };
        size_t free = 0;
        for (auto claim = look.claims.begin(); claim != look.claims.end(); ++claim) {
            const size_t start = std::max(claim->start, free), end = claim->end;
            if (start >= end || start >= limit) continue;
            if (start > claim->start) {
                const auto says_more = [&](const Claim &other) {
                    return other.start >= start && other.start < end && other.end >= end && is_empty(start, other.start);
                };
                if (is_empty(start, end) || std::any_of(claim + 1, look.claims.end(), says_more)) continue;
            }
            out.push_back({start, end, claim->verdict, {}});
            free = end;
        }
    }

    static bool is_letter_or_digit(char sign) {
        const auto byte = static_cast<uint8_t>(sign);
        return byte >= 128 || (byte >= '0' && byte <= '9') || ((byte | 32) >= 'a' && (byte | 32) <= 'z');
    }

    // What a detector, or the terms alone, take a match for. Remembered by both.
    Judged judged(std::string_view text, const Candidate &match, size_t place) {
        const std::string_view matched = text.substr(match.start, match.end - match.start);
        const uint64_t hash = HashOfText{}(matched) ^ (place + 1) * 0x9e3779b97f4a7c15ULL;
        if (const Judged *known = memory_.find(matched, place, hash)) return *known;
        Judged made = Judged::fresh();
        Verdict &verdict = *made.operator->();
        verdict.both = matched;
        verdict.length = matched.size();
        verdict.by = place;
        if (place == AS_TERM)
            judge_as_term(matched, verdict);
        else
            judge(text, match, place, verdict);
        return matched.size() > Memory::LONGEST ? made : *memory_.keep(made, hash);
    }

    // What a text by itself is: what the first detector says whose pattern is the whole of it, or a term.
    Judged judged_alone(std::string_view text) {
        const Candidate whole{0, text.size()};
        Judged said;
        by_.each_whole(text, [&](size_t place) {
            said = judged(text, whole, place);
            return said->something;
        });
        return said && said->something ? said : judged(text, whole, AS_TERM);
    }

    void judge(std::string_view text, const Candidate &match, size_t place, Verdict &made) {
        const Detector &detector = by_.detectors[place];
        const std::string_view value = detector.value_in(text, match);
        if (value.empty()) return;
        const size_t start = value.data() - text.data() - match.start, end = start + value.size();
        if (detector.kind != Detectors::LEAVE && !detector.accepts(value)) return;
        const Known *term = scanner_->find_known(folded(value));
        if (term != nullptr && (detector.kind == term->kind || named_[detector.kind]))
            return found(made, start, end, term->kind, term->canonical, true);
        found(made, start, end, detector.kind, detector.same(value), detector.sure);
    }

    void judge_as_term(std::string_view text, Verdict &made) {
        const std::string whole = folded(text);
        const Known *term = scanner_->find_known(whole);
        if (term != nullptr) return found(made, 0, text.size(), term->kind, term->canonical, true);
        if (scanner_->has_family(whole)) {
            std::string canonical(text);
            for (char &sign : canonical) sign = lower(sign);
            found(made, 0, text.size(), host_, canonical, true);
        }
    }

    void found(Verdict &made, size_t start, size_t end, int kind, std::optional<std::string> canonical, bool sure) {
        made.something = true;
        made.leave = kind == Detectors::LEAVE;
        made.start = start;
        made.end = end;
        made.kind = kind;
        made.canonical = std::move(canonical);
        made.sure = sure;
        made.soft = !made.leave && soft_[kind];
        if (made.leave) return;
        const std::string value(made.text().substr(start, end - start));  // before something is put behind the text
        const std::string_view same = made.canonical ? *made.canonical : value;
        const std::string reason = reason_of(value, same, kind);
        made.kept = !reason.empty();
        if (made.kept)
            reason_(py::bytes(value.data(), value.size()), reason);
        else
            labels_->add_written(made.both, kinds_[kind], same, value);
    }

    std::string reason_of(std::string_view value, std::string_view canonical, int kind) {
        if (scanner_->floor.contains(kind)) return "";
        if (!scanner_->keep.empty()) {
            for (const std::string &one : {folded(value), std::string(canonical)}) {
                auto kept = scanner_->keep.find(one);
                if (kept != scanner_->keep.end()) return kept->second;
            }
        }
        auto whole_kind = scanner_->keep_kinds.find(kind);
        return whole_kind == scanner_->keep_kinds.end() ? "" : whole_kind->second;
    }

    std::string folded(std::string_view value) {
        std::string made(value);
        bool ascii = true;
        for (char &sign : made) {
            ascii = ascii && static_cast<uint8_t>(sign) < 128;
            sign = lower(sign);
        }
        return ascii ? made : py::bytes(fold_(py::bytes(value.data(), value.size()))).cast<std::string>();
    }

    py::object as_span(const Found &one) const {
        if (!one.verdict) return one.given;
        return span_(one.start, one.end, as_bytes(one.verdict->placeholder()), names_[one.verdict->kind],
                     one.verdict->sure);
    }

    static py::bytes as_bytes(std::string_view text) { return {text.data(), text.size()}; }

    static std::string_view instead(const Found &one) {
        if (one.verdict) return one.verdict->placeholder();
        PyObject *bytes = PyTuple_GET_ITEM(one.given.ptr(), 2);
        return {PyBytes_AS_STRING(bytes), static_cast<size_t>(PyBytes_GET_SIZE(bytes))};
    }

    // The kind's place, and 128 more where a person had better look.
    int number(const Found &one) const {
        if (one.verdict) return one.verdict->kind | (one.verdict->sure ? 0 : 128);
        auto span = py::reinterpret_borrow<py::tuple>(one.given);
        const auto kind = span[3].cast<std::string>();
        const auto place = std::find(kinds_.begin(), kinds_.end(), kind) - kinds_.begin();
        return static_cast<int>(place) | (span[4].cast<bool>() ? 0 : 128);
    }

    static size_t seen_end_of(const Spans &spans, const Found *one) {
        return one == spans.all.data() ? 0 : (one - 1)->end;
    }

    template <typename Number> static void put(std::string &out, Number number) {
        for (size_t byte = 0; byte < sizeof(Number); byte++) out.push_back(static_cast<char>(number >> (byte * 8)));
    }

    std::shared_ptr<Scanner> scanner_;
    Detectors &by_;
    std::shared_ptr<Labels> labels_;
    std::shared_ptr<Legend> legend_;
    py::object special_, reason_, given_, fold_, span_;
    std::vector<std::string> kinds_;
    std::vector<py::object> names_;
    std::vector<bool> soft_;  // a label alone can tell them; what is known exactly comes before it
    std::vector<bool> named_;  // what is known exactly is what the register says, not what a label makes of it
    int host_ = -1;
    Bits of_people_;
    std::vector<uint64_t> counts_, kept_;
    std::vector<std::unique_ptr<Look>> looks_;
    size_t depth_ = 0;  // how many of them are in use
    Memory memory_{1 << 15};
    std::vector<Bits> combinations_;
    std::unordered_map<Bits, size_t, HashOfBits> places_;
    std::string space_;
    std::vector<Candidate> beneath_;
};

}  // namespace redact
