// Finding terms: tens of thousands of known texts in one pass that costs hardly more than for a few.
//
// A run of letters and digits is hashed where it begins; only where a term begins with such a run its whole text is
// compared, by its hash. Digits count alike, so that a term finds all of its family (br07-kiosk2 finds br12-kiosk1):
// what a candidate is, the judge decides. Two names that stand beside each other are one term, whatever is between them.
#pragma once

#ifdef __SSE2__
#include <emmintrin.h>
#endif

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>
#include <cstring>
#include <string>
#include <string_view>
#include <unordered_map>
#include <unordered_set>
#include <vector>

namespace redact {

inline constexpr std::array<bool, 256> make_letters() {
    std::array<bool, 256> table{};
    for (int sign = 0; sign < 256; sign++)
        table[sign] = (sign >= 'A' && sign <= 'Z') || (sign >= 'a' && sign <= 'z') || (sign >= '0' && sign <= '9');
    return table;
}
inline constexpr auto IN_RUN = make_letters();

inline bool in_run(char sign) { return IN_RUN[static_cast<uint8_t>(sign)]; }
inline bool in_word(char sign) { return in_run(sign) || sign == '_'; }
inline char lower(char sign) { return sign >= 'A' && sign <= 'Z' ? sign + 32 : sign; }

inline constexpr uint64_t ONES = 0x0101010101010101ULL;

// Sixty-four signs at once: which of them are letters or digits (a bit for each), without a branch.
#ifdef __SSE2__
// Which signs are among so many from the first one on: moved to the lower end of what a byte can be, with its sign.
inline __m128i among(__m128i signs, char first, char many) {
    const __m128i moved = _mm_sub_epi8(signs, _mm_set1_epi8(static_cast<char>(first + 128)));
    return _mm_cmplt_epi8(moved, _mm_set1_epi8(static_cast<char>(-128 + many)));
}
inline uint64_t runs_of(const char *at) {
    uint64_t mask = 0;
    for (size_t part = 0; part < 4; part++) {
        const __m128i signs = _mm_loadu_si128(reinterpret_cast<const __m128i *>(at + part * 16));
        const __m128i small = _mm_or_si128(signs, _mm_set1_epi8(0x20));
        const __m128i letters = among(small, 'a', 26), digits = among(signs, '0', 10);
        mask |= static_cast<uint64_t>(_mm_movemask_epi8(_mm_or_si128(letters, digits))) << (part * 16);
    }
    return mask;
}
// The same for four signs.
inline uint64_t any_of(const char *at, const char (&wanted)[5]) {
    uint64_t mask = 0;
    for (size_t part = 0; part < 4; part++) {
        const __m128i signs = _mm_loadu_si128(reinterpret_cast<const __m128i *>(at + part * 16));
        const auto is = [&](char sign) { return _mm_cmpeq_epi8(signs, _mm_set1_epi8(sign)); };
        const __m128i any = _mm_or_si128(_mm_or_si128(is(wanted[0]), is(wanted[1])), _mm_or_si128(is(wanted[2]), is(wanted[3])));
        mask |= static_cast<uint64_t>(_mm_movemask_epi8(any)) << (part * 16);
    }
    return mask;
}
#else
inline uint64_t runs_of(const char *at) {
    uint64_t mask = 0;
    for (size_t eight = 0; eight < 8; eight++) {
        uint64_t word;
        std::memcpy(&word, at + eight * 8, 8);
        const uint64_t low = word & ONES * 0x7f, small = low | ONES * 0x20;
        const uint64_t letters = (small + ONES * (0x80 - 'a')) & ~(small + ONES * (0x80 - 'z' - 1));
        const uint64_t digits = (low + ONES * (0x80 - '0')) & ~(low + ONES * (0x80 - '9' - 1));
        const uint64_t hits = (letters | digits) & ~word & ONES * 0x80;
        mask |= ((hits >> 7) * 0x0102040810204080ULL >> 56) << (eight * 8);
    }
    return mask;
}
inline uint64_t any_of(const char *at, const char (&wanted)[5]) {
    uint64_t mask = 0;
    for (size_t place = 0; place < 64; place++)
        mask |= static_cast<uint64_t>(std::strchr(wanted, at[place]) != nullptr && at[place] != 0) << place;
    return mask;
}
#endif

struct Candidate {
    size_t start, end;
};

// How much stands at a place that may stand between the two names of someone, in prose, in accounts, in rows of a table:
// one mark at most, blanks around it, quotes that close and open. Nothing if no border begins there.
enum BetweenNames : uint8_t { QUOTE = 1, BLANK = 2, MARK = 4 };
inline constexpr auto BETWEEN_NAMES = [] {
    std::array<uint8_t, 256> made{};
    for (const char sign : {'"', '\''}) made[sign] = QUOTE;
    for (const char sign : {' ', '\t'}) made[sign] = BLANK;
    for (const char sign : {',', ';', '|', '.', '_', '+', '-'}) made[sign] = MARK;
    return made;
}();

inline constexpr size_t WIDEST_BORDER = 48;
inline size_t border_at(std::string_view text, size_t at) {
    const size_t stop = std::min(text.size(), at + WIDEST_BORDER);
    const auto is = [&](size_t place, BetweenNames sort) {
        return place < stop && BETWEEN_NAMES[static_cast<uint8_t>(text[place])] == sort;
    };
    size_t end = at + is(at, QUOTE);
    while (is(end, BLANK)) end++;
    end += is(end, MARK);
    while (is(end, BLANK)) end++;
    return end + is(end, QUOTE) - at;
}

// A small table of bits, so that most looks need no large one; 32 bits for each hash that is marked.
class Marks {
  public:
    void add(uint64_t hash) {
        all_.push_back(hash);
        if (all_.size() * 32 > bits_.size() * 64) {
            bits_.assign(bits_.size() * 2, 0);
            top_ = bits_.size() - 1;
            for (uint64_t one : all_) set(one);
        }
        set(hash);
    }
    bool has(uint64_t hash) const { return bits_[hash >> 6 & top_] >> (hash & 63) & 1; }

  private:
    void set(uint64_t hash) { bits_[hash >> 6 & top_] |= 1ULL << (hash & 63); }

    std::vector<uint64_t> bits_ = std::vector<uint64_t>(128), all_;
    size_t top_ = 127;
};

class TermFinder {
  public:
    // `anywhere` texts are found inside longer words as well; they have eight bytes at least.
    void add(std::string_view text, bool anywhere) {
        add_before_blanks(text);
        if (anywhere && text.size() >= 8) {
            add_anywhere(text);
            return;
        }
        size_t begin = 0;
        while (begin < text.size() && !in_run(text[begin])) begin++;
        if (begin == text.size() || begin > 255) {
            // Those in a script of their own may be thousands; for the few that are shorter each is looked for by itself.
            if (text.size() >= 8)
                add_anywhere(text);
            else
                odd_.insert(folded(text));
            return;
        }
        way_of(text, begin).alone = true;
        wholes_.insert(hash_of(text));
    }

    // Two names, either of which may stand first, with any of the borders between them.
    void add_pair(std::string_view one, std::string_view other) {
        for (const auto &[first, second] : {std::pair(one, other), std::pair(other, one)}) {
            const size_t begin = std::find_if(first.begin(), first.end(), in_run) - first.begin();
            if (begin == first.size() || begin > 255) {  // in a script of its own: the usual ways, each by itself
                for (const std::string_view border : {" ", ", ", ".", "_", "-", ",", ";", "\t"})
                    add(std::string(first).append(border).append(second), false);
                continue;
            }
            add_before_blanks(first);
            for (const std::string_view mark : {"", ",", "."}) {
                const std::string marked = std::string(first).append(mark);
                add_before_blank(word_before(marked, marked.size()));
            }
            auto &seconds = way_of(first, begin).seconds;
            const auto length = static_cast<uint32_t>(second.size());
            if (std::find(seconds.begin(), seconds.end(), length) == seconds.end()) seconds.push_back(length);
            wholes_.insert(hash_of_pair(hash_of(first), second));
        }
    }

    // All candidates, in order, the longest of one place first.
    void find(std::string_view text, std::vector<Candidate> &out) const {
        if (!ways_.empty()) find_runs(text, out);
        size_t plain = out.size();
        if (!anywhere_.empty()) find_anywhere(text, out);
        if (!odd_.empty()) find_odd(text, out);
        if (out.size() > plain || unordered_)
            std::sort(out.begin(), out.end(), before);
    }

    // The ends of lines behind a word that stands before a blank in a term: what is known may go on in the next line.
    void find_broken(std::string_view text, const std::vector<size_t> &ends, std::vector<size_t> &out) const {
        if (before_blanks_.empty()) return;
        for (const size_t end : ends) {
            const size_t stop = end > 0 && text[end - 1] == '\r' ? end - 1 : end;
            if (stop == 0 || !last_signs_[static_cast<uint8_t>(text[stop - 1])]) continue;
            const std::string_view word = word_before(text, stop);
            if (!word.empty() && words_.has(hash_of(word)) && before_blanks_.contains(folded(word))) out.push_back(end);
        }
    }

    bool empty() const { return ways_.empty() && anywhere_.empty() && odd_.empty(); }

  private:
    // How a text begins before its first run and how long it is; whether it is a term by itself, and if it is the first
    // of two names, how long those are that stand behind it.
    struct Way {
        uint32_t lead, length;
        bool alone = false;
        std::vector<uint32_t> seconds{};
    };
    static constexpr uint64_t SEED = 0xcbf29ce484222325ULL;

    static bool before(const Candidate &one, const Candidate &other) {
        return one.start != other.start ? one.start < other.start : one.end > other.end;
    }
    static uint64_t mix(uint64_t hash) {
        hash *= 0x9e3779b97f4a7c15ULL;
        return hash ^ (hash >> 32);
    }
    // Eight signs at once, letters in lower case and every digit a zero. Some other signs come out alike as well.
    static uint64_t alike(uint64_t word) {
        const uint64_t letters = (word >> 6 & ONES) * 0xff;
        const uint64_t digits = (word >> 4 & word >> 5 & ~(word >> 6) & ONES) * 0xff;
        return (word | (letters & ONES * 0x20)) & ~(digits & ONES * 0x0f);
    }
    static uint64_t word_at(const char *at, size_t count) {
        uint64_t word = 0;
        std::memcpy(&word, at, count);
        return word;
    }
    // Of eight signs the first so many.
    static constexpr std::array<uint64_t, 9> FIRST{0,           0xff,           0xffff,           0xffffff,          0xffffffff,
                                                   0xffffffffff, 0xffffffffffff, 0xffffffffffffff, ~0ULL};
    // A run by its first eight signs and its length.
    static uint64_t hash_of_run(std::string_view text, size_t begin, size_t end) {
        const size_t size = end - begin;
        uint64_t word;
        if (begin + 8 <= text.size()) {
            std::memcpy(&word, text.data() + begin, 8);
            word &= FIRST[std::min<size_t>(size, 8)];
        } else {
            word = word_at(text.data() + begin, std::min<size_t>(size, 8));
        }
        return mix(alike(word) ^ size);
    }
    static uint64_t hash_of(std::string_view text) {
        uint64_t hash = SEED ^ text.size();
        size_t at = 0;
        for (; at + 8 <= text.size(); at += 8) hash = mix(hash ^ alike(word_at(text.data() + at, 8)));
        if (at < text.size()) hash = mix(hash ^ alike(word_at(text.data() + at, text.size() - at)));
        return mix(hash);
    }
    static uint64_t hash_of_pair(uint64_t first, std::string_view second) { return mix(first ^ hash_of(second) * SEED); }

    // The way of a text whose first run begins there.
    Way &way_of(std::string_view text, size_t begin) {
        size_t end = begin;
        while (end < text.size() && in_run(text[end])) end++;
        const uint64_t hash = hash_of_run(text, begin, end);
        auto &ways = ways_[hash];
        if (ways.empty()) runs_.add(hash);
        add_beginning(text, begin, end);
        const auto lead = static_cast<uint32_t>(begin), length = static_cast<uint32_t>(text.size());
        auto place = std::find_if(ways.begin(), ways.end(), [=](const Way &one) { return one.length <= length; });
        while (place != ways.end() && place->length == length && place->lead != lead) ++place;
        if (place == ways.end() || place->length != length) place = ways.insert(place, {lead, length});
        return *place;
    }
    void add_before_blanks(std::string_view text) {
        for (size_t blank = text.find(' '); blank != std::string_view::npos; blank = text.find(' ', blank + 1))
            add_before_blank(word_before(text, blank));
    }
    void add_before_blank(std::string_view word) {
        if (word.empty() || !before_blanks_.insert(folded(word)).second) return;
        words_.add(hash_of(word));
        for (int sign = 0; sign < 256; sign++)
            if (lower(static_cast<char>(sign)) == lower(word.back())) last_signs_[sign] = true;
    }
    static std::string_view word_before(std::string_view text, size_t end) {
        constexpr size_t LONGEST = 32;
        size_t begin = end;
        while (begin > 0 && end - begin < LONGEST && text[begin - 1] != ' ' && text[begin - 1] != '\n' && text[begin - 1] != '\t') begin--;
        return text.substr(begin, end - begin);
    }
    static std::string folded(std::string_view text) {
        std::string made(text);
        for (char &sign : made) sign = lower(sign);
        return made;
    }
    void find_runs(std::string_view text, std::vector<Candidate> &out) const {
        constexpr size_t NONE = std::string_view::npos;
        char last[64];
        size_t open = NONE;  // where a run began that goes on
        Likely likely;
        for (size_t base = 0; base < text.size(); base += 64) {
            const char *at = text.data() + base;
            if (text.size() - base < 64) {
                std::memset(last, 0, sizeof last);
                std::memcpy(last, at, text.size() - base);
                at = last;
            }
            // Where runs begin and where they end are taken by themselves, so that no step has to wait for another.
            const uint64_t mask = runs_of(at), before = mask << 1 | (open != NONE);
            uint64_t begins = mask & ~before, ends = ~mask & before;
            if (open != NONE) {
                if (!ends) continue;
                likely.add(*this, text, open, base + std::countr_zero(ends));
                ends &= ends - 1;
                open = NONE;
            }
            for (; ends; ends &= ends - 1, begins &= begins - 1)
                likely.add(*this, text, base + std::countr_zero(begins), base + std::countr_zero(ends));
            if (begins) open = base + std::countr_zero(begins);
            if (likely.many > Likely::ROOM - 64) look_at(text, likely, out);
        }
        if (open != NONE) likely.add(*this, text, open, text.size());
        look_at(text, likely, out);
    }

    // How the first two signs of a run are written in a table of so many bits each: whatever the case. Digits, which
    // count alike, have ten codes.
    static constexpr size_t CODE_BITS = 5, CODES = 1 << CODE_BITS;
    static size_t code_of(char sign) { return static_cast<uint8_t>(sign) & (CODES - 1); }
    static uint32_t codes_like(char sign) {
        return sign >= '0' && sign <= '9' ? 0x3ffU << code_of('0') : 1U << code_of(sign);
    }
    static uint64_t bit_of(size_t length) { return 1ULL << (length & 63); }

    void add_beginning(std::string_view text, size_t begin, size_t end) {
        const uint32_t first = codes_like(text[begin]), second = end - begin > 1 ? codes_like(text[begin + 1]) : ~0U;
        for (uint32_t ones = first; ones; ones &= ones - 1)
            for (uint32_t others = second; others; others &= others - 1)
                lengths_[std::countr_zero(ones) << CODE_BITS | std::countr_zero(others)] |= bit_of(end - begin);
    }

    // Runs that begin as a term does and are as long as its first: some in a hundred, and which is nothing that a
    // processor could foresee, so they are put aside without a branch and looked at later.
    struct Likely {
        static constexpr size_t ROOM = 256;
        Candidate runs[ROOM];
        size_t many = 0;

        void add(const TermFinder &finder, std::string_view text, size_t begin, size_t end) {
            const char second = begin + 1 < text.size() ? text[begin + 1] : '\0';
            runs[many] = {begin, end};
            many += (finder.lengths_[code_of(text[begin]) << CODE_BITS | code_of(second)] & bit_of(end - begin)) != 0;
        }
    };

    void look_at(std::string_view text, Likely &likely, std::vector<Candidate> &out) const {
        for (size_t place = 0; place < likely.many; place++) {
            const auto [begin, end] = likely.runs[place];
            const uint64_t hash = hash_of_run(text, begin, end);
            if (runs_.has(hash)) [[unlikely]] look_closer(text, begin, hash, out);
        }
        likely.many = 0;
    }

    [[gnu::noinline]] void look_closer(std::string_view text, size_t begin, uint64_t hash, std::vector<Candidate> &out) const {
        auto found = ways_.find(hash);
        if (found == ways_.end()) return;
        const size_t known = out.size();
        for (const Way &way : found->second) {
            if (way.lead > begin || begin - way.lead + way.length > text.size()) continue;
            const size_t start = begin - way.lead, stop = start + way.length;
            if (in_word(text[start]) && start > 0 && in_word(text[start - 1])) continue;
            const bool alone = way.alone && !goes_on(text, stop);
            const size_t border = way.seconds.empty() ? 0 : border_at(text, stop);
            if (!alone && !border) continue;
            const uint64_t whole = hash_of(text.substr(start, way.length));
            if (border) look_behind(text, start, stop + border, whole, way.seconds, out);
            if (alone && wholes_.contains(whole)) out.push_back({start, stop});
            unordered_ = unordered_ || way.lead > 0;
        }
        if (out.size() > known + 1) std::sort(out.begin() + known, out.end(), before);
    }

    // Whether a word goes on at a place where something known would end.
    static bool goes_on(std::string_view text, size_t stop) {
        return in_word(text[stop - 1]) && stop < text.size() && in_word(text[stop]);
    }

    // Whether the second of two names stands behind the first and what is between them.
    void look_behind(std::string_view text, size_t start, size_t second, uint64_t first, const std::vector<uint32_t> &lengths,
                     std::vector<Candidate> &out) const {
        for (const size_t length : lengths) {
            const size_t end = second + length;
            if (end > text.size() || goes_on(text, end)) continue;
            if (wholes_.contains(hash_of_pair(first, text.substr(second, length)))) out.push_back({start, end});
        }
    }

    void add_anywhere(std::string_view text) {
        std::string made = folded(text);
        uint64_t head = head_of(made.data());
        auto &lengths = anywhere_[head];
        if (lengths.empty()) heads_.add(mix(head));
        if (std::find(lengths.begin(), lengths.end(), made.size()) == lengths.end()) lengths.push_back(made.size());
        parts_.insert(std::move(made));
    }

    // Eight bytes at once, their case forgotten; that other bytes may come out alike does no harm.
    static uint64_t head_of(const char *at) {
        uint64_t head;
        std::memcpy(&head, at, 8);
        return head | 0x2020202020202020ULL;
    }
    void find_anywhere(std::string_view text, std::vector<Candidate> &out) const {
        for (size_t at = 0; at + 8 <= text.size(); at++) {
            const uint64_t head = head_of(text.data() + at);
            if (!heads_.has(mix(head))) continue;
            auto found = anywhere_.find(head);
            if (found == anywhere_.end()) continue;
            for (const size_t length : found->second)
                if (at + length <= text.size() && parts_.contains(folded(text.substr(at, length))))
                    out.push_back({at, at + length});
        }
    }

    void find_odd(std::string_view text, std::vector<Candidate> &out) const {
        for (const std::string &one : odd_)
            for (size_t at = text.find(one); at != std::string_view::npos; at = text.find(one, at + 1))
                out.push_back({at, at + one.size()});
    }

    std::unordered_map<uint64_t, std::vector<Way>> ways_;
    std::unordered_set<uint64_t> wholes_;
    std::unordered_map<uint64_t, std::vector<size_t>> anywhere_;  // by the head, how long those are that begin so
    std::unordered_set<std::string> parts_, odd_;
    std::array<uint64_t, CODES * CODES> lengths_{};  // by how a run begins: how long those are with which terms begin
    std::unordered_set<std::string> before_blanks_;
    std::array<bool, 256> last_signs_{};
    Marks runs_, heads_, words_;
    mutable bool unordered_ = false;
};

}  // namespace redact
