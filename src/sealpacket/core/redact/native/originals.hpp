// Searching a copy for every original of a legend: the leak check's own search, which shares nothing with the finder.
//
// An original of eight bytes or more is found by its first eight; a shorter one only where a word may begin, since it
// counts only where it stands alone. There may be millions: only a hash of 64 bits is kept of each, and what is found
// by it is looked up in the legend afterwards.
#pragma once

#include <algorithm>
#include <bit>
#include <cstdint>
#include <cstring>
#include <string>
#include <string_view>
#include <unordered_set>
#include <utility>
#include <vector>

#include "bared.hpp"
#include "legend.hpp"
#include "ordinary.hpp"

namespace redact {

struct Place {
    size_t start, end;
};

class Originals {
  public:
    static constexpr size_t SHORTEST = 4, LONG = 8;

    // Room for so many. Of the originals of a legend each is in one of so many `shares`; this is for one of them. Those
    // in `exempt` (in lower case), which the plan keeps, are not searched for; nor are secrets, users, people and
    // hosts without a domain that are ordinary words.
    Originals(size_t many, std::unordered_set<std::string> exempt, const Ordinary &ordinary, uint64_t share, uint64_t shares)
        : exempt_(std::move(exempt)), ordinary_(ordinary), share_(share), shares_(shares), heads_(2 * many), heads_and_lengths_(many) {
        hashes_.reserve(many);
    }

    // Those of some pairs, packed.
    void add(std::string_view packed) {
        each_pair(packed, [this](std::string_view placeholder, std::string_view original) {
            const bool by_label = placeholder.starts_with("[secret:") || placeholder.starts_with("[user:") || placeholder.starts_with("[person:") ||
                                  (placeholder.starts_with("[host:") && original.find('.') == std::string_view::npos);
            if (by_label && ordinary_.has(original))
                apart_.insert(in_lower(original));
            else
                add_one(original);
        });
    }

    // All are here.
    void close() {
        std::sort(hashes_.begin(), hashes_.end());
        hashes_.erase(std::unique(hashes_.begin(), hashes_.end()), hashes_.end());
        std::sort(lengths_.begin(), lengths_.end());
    }

    size_t searched() const { return hashes_.size(); }
    size_t not_searched() const { return apart_.size(); }

    // Where originals may stand: something of the same hash does.
    std::vector<Place> search(std::string_view text) const {
        std::vector<Place> found = search_long(text);
        if (any_short_) search_short(text, found);
        return found;
    }

    // The same for those of eight bytes or more only.
    std::vector<Place> search_long(std::string_view text) const {
        std::vector<Place> found;
        look(text, 0, text.size(), found);
        return found;
    }

    // Those of eight bytes or more that go over one of these places.
    std::vector<Place> search_over(std::string_view text, const Joins &joins) const {
        std::vector<Place> found, over;
        size_t next = 0;
        for (const size_t join : joins) {
            const size_t start = std::max(next, join < longest ? 0 : join - longest);
            look(text, start, next = std::max(start, join), found);
        }
        for (const Place &one : found) {
            const auto join = std::upper_bound(joins.begin(), joins.end(), one.start);
            if (join != joins.end() && *join < one.end) over.push_back(one);
        }
        return over;
    }

    // Whether any has a blank, which may be the end of a line.
    bool any_blank() const { return any_blank_; }

    size_t longest = 0;

  private:
    // Three bits of one word for each hash that there may be, sixteen in all: what has not all three was never added.
    class Filter {
      public:
        explicit Filter(size_t many) : bits_(many / 4 + 16) {}
        void add(uint64_t head) {
            const uint64_t hash = scattered(head);
            bits_[place(hash)] |= bits_of(hash);
        }
        bool may_have(uint64_t head) const {
            const uint64_t hash = scattered(head), wanted = bits_of(hash);
            return (bits_[place(hash)] & wanted) == wanted;
        }

      private:
        static uint64_t bits_of(uint64_t hash) {
            return 1ULL << (hash & 63) | 1ULL << (hash >> 6 & 63) | 1ULL << (hash >> 12 & 63);
        }
        size_t place(uint64_t hash) const { return static_cast<uint64_t>((hash >> 32) * bits_.size()) >> 32; }
        static uint64_t scattered(uint64_t head) {
            head *= 0xd6e8feb86659fd93ULL;
            head ^= head >> 32;
            return head * 0xd6e8feb86659fd93ULL;
        }
        std::vector<uint64_t> bits_;
    };

    void add_one(std::string_view original) {
        if (!exempt_.empty() || original.size() < SHORTEST) {
            const std::string text = in_lower(original);
            if (text.size() < SHORTEST || exempt_.contains(text)) {
                apart_.insert(text);
                return;
            }
        }
        const uint64_t hash = hash_of(original);
        if ((hash >> 32) % shares_ != share_) return;
        hashes_.push_back(hash);
        longest = std::max(longest, original.size());
        any_blank_ = any_blank_ || original.find(' ') != std::string_view::npos;
        const bool is_long = original.size() >= LONG;
        const uint64_t head = is_long ? head_at(original.data()) : short_head_at(original.data());
        any_short_ = any_short_ || !is_long;
        heads_.add(head);
        if (!is_long) short_begins_odd_ = short_begins_odd_ || !OF_WORDS.has(original[0]);
        for (size_t at = 0; is_long && at < STRIDE; at++) {
            const size_t place = place_of(gram_of(original.data() + at, GRAM));
            grams_[place / 64] |= 1ULL << (place % 64);
        }
        heads_and_lengths_.add(with_length(head, original.size()));
        if (lengths_known_.insert(original.size()).second) lengths_.push_back(original.size());
    }

    // Those of eight bytes or more that begin in a stretch. Of the first STRIDE runs of GRAM bytes in such an original one
    // stands at a place that is looked at: at many of them at once, so that the processor need not wait for any.
    void look(std::string_view text, size_t start, size_t end, std::vector<Place> &found) const {
        constexpr size_t AT_ONCE = 8;
        const size_t stop = std::min(end + STRIDE - 1, text.size() < GRAM ? 0 : text.size() - GRAM + 1);
        size_t at = start;
        for (; at + AT_ONCE * STRIDE + 8 <= stop; at += AT_ONCE * STRIDE) {
            uint32_t some = 0;
            for (size_t place = 0; place < AT_ONCE; place++)
                some |= may_have_gram(gram_of(text.data() + at + place * STRIDE, 8)) << place;
            for (; some; some &= some - 1) look_around(text, at + std::countr_zero(some) * STRIDE, start, end, found);
        }
        for (; at < stop; at += STRIDE)
            if (may_have_gram(gram_of(text.data() + at, GRAM))) look_around(text, at, start, end, found);
    }

    // Those that begin at this place, or at those before it that are not looked at.
    void look_around(std::string_view text, size_t at, size_t start, size_t end, std::vector<Place> &found) const {
        for (size_t back = std::min(STRIDE - 1, at - start) + 1; back-- > 0;) {
            const size_t begin = at - back;
            if (begin >= end || begin + LONG > text.size()) continue;
            const uint64_t head = head_at(text.data() + begin);
            if (heads_.may_have(head)) [[unlikely]] compare(text, begin, head, found);
        }
    }

    uint32_t may_have_gram(uint64_t gram) const {
        const size_t place = place_of(gram);
        return grams_[place / 64] >> (place % 64) & 1;
    }

    // Those of fewer bytes, which count only where a word may begin.
    void search_short(std::string_view text, std::vector<Place> &found) const {
        uint64_t was_word = 0;  // the sign before these
        for (size_t base = 0; base < text.size(); base += 64) {
            const uint64_t words = OF_WORDS.among(text, base), begins = words & ~(words << 1 | was_word);
            for (uint64_t some = short_begins_odd_ ? ~words | begins : begins; some; some &= some - 1) {
                const size_t at = base + std::countr_zero(some);
                if (at + SHORTEST > text.size()) break;
                const uint64_t four = short_head_at(text.data() + at);
                if (heads_.may_have(four)) compare(text, at, four, found);
            }
            was_word = words >> 63;
        }
    }

    // Where in a table that stays near the processor some bytes have their bits.
    static size_t place_of(uint64_t gram) { return gram * 0x9e3779b97f4a7c15ULL >> (64 - TABLE_BITS); }
    // The first GRAM of so many bytes.
    static uint64_t gram_of(const char *at, size_t bytes) {
        uint64_t gram = 0;
        std::memcpy(&gram, at, bytes);
        return (gram | 0x2020202020202020ULL) << (64 - 8 * GRAM);  // the last byte is the highest
    }

    [[gnu::noinline]] void compare(std::string_view text, size_t at, uint64_t head, std::vector<Place> &found) const {
        for (const size_t length : lengths_) {
            if (at + length > text.size()) return;
            if (heads_and_lengths_.may_have(with_length(head, length)) &&
                std::binary_search(hashes_.begin(), hashes_.end(), hash_of(text.substr(at, length))))
                found.push_back({at, at + length});
        }
    }

    static uint64_t with_length(uint64_t head, size_t length) { return head ^ (length + 1) * 0x9e3779b97f4a7c15ULL; }
    static uint64_t short_head_at(const char *at) {
        uint32_t four;
        std::memcpy(&four, at, 4);
        return four | 0x20202020U;
    }
    static uint64_t head_at(const char *at) {
        uint64_t head;
        std::memcpy(&head, at, 8);
        return head | 0x2020202020202020ULL;
    }
    // Of the text in lower case; some other signs count alike as well.
    static uint64_t hash_of(std::string_view text) {
        uint64_t hash = text.size();
        for (size_t at = 0; at < text.size(); at += 8) {
            uint64_t word = 0;
            std::memcpy(&word, text.data() + at, std::min<size_t>(8, text.size() - at));
            hash = (hash ^ (word | 0x2020202020202020ULL)) * 0xd6e8feb86659fd93ULL;
            hash ^= hash >> 32;
        }
        return hash;
    }
    static std::string in_lower(std::string_view text) {
        std::string made(text);
        for (char &sign : made)
            if (sign >= 'A' && sign <= 'Z') sign += 32;
        return made;
    }

    std::unordered_set<std::string> exempt_, apart_;
    const Ordinary ordinary_;
    uint64_t share_, shares_;
    std::vector<uint64_t> hashes_;
    Filter heads_, heads_and_lengths_;
    static constexpr size_t TABLE_BITS = 21, STRIDE = 4, GRAM = LONG - STRIDE + 1;
    static constexpr SignSet OF_WORDS{"0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz_"};
    std::vector<uint64_t> grams_ = std::vector<uint64_t>((1 << TABLE_BITS) / 64);
    std::vector<size_t> lengths_;
    std::unordered_set<size_t> lengths_known_;
    bool any_short_ = false, short_begins_odd_ = false, any_blank_ = false;
};

}  // namespace redact
