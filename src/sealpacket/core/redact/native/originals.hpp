// Searching a copy for every original of a legend: the leak check's own search, which shares nothing with the finder.
//
// An original of eight bytes or more is found by its first eight; a shorter one only where a word may begin, since it
// counts only where it stands alone. There may be millions: each costs some twenty bytes beside the legend.
#pragma once

#include <algorithm>
#include <cctype>
#include <cstdint>
#include <cstring>
#include <memory>
#include <string>
#include <string_view>
#include <unordered_set>
#include <utility>
#include <vector>

#include "legend.hpp"

namespace redact {

struct Leak {
    size_t number, start, end;
};

class Originals {
  public:
    static constexpr size_t SHORTEST = 4, LONG = 8;

    // The originals of a legend but those in `exempt` (in lower case), which the plan keeps.
    Originals(std::shared_ptr<Legend> legend, const std::unordered_set<std::string> &exempt)
        : legend_(std::move(legend)) {
        make_room(legend_->size());
        for (size_t number = 0; number < legend_->size(); number++) {
            const std::string text = in_lower(legend_->pair(number).second);
            if (text.size() < SHORTEST || exempt.contains(text)) continue;
            searched++;
            longest = std::max(longest, text.size());
            add(text, static_cast<uint32_t>(number));
        }
        std::sort(lengths_.begin(), lengths_.end());
    }

    // Where originals stand: their numbers in the legend, and the places.
    std::vector<Leak> search(std::string_view text) const {
        std::vector<Leak> found;
        for (size_t at = 0; at + LONG <= text.size(); at++) {
            const uint64_t head = head_at(text.data() + at);
            if (heads_.may_have(head)) [[unlikely]] compare(text, at, head, found);
        }
        if (!any_short_) return found;
        for (size_t at = 0; at + SHORTEST <= text.size(); at++) {
            if (at > 0 && is_word(text[at - 1]) && is_word(text[at])) continue;
            const uint64_t head = short_head_at(text.data() + at);
            if (heads_.may_have(head)) [[unlikely]] compare(text, at, head, found);
        }
        return found;
    }

    std::pair<std::string_view, std::string_view> pair(size_t number) const { return legend_->pair(number); }

    size_t searched = 0, longest = 0;

  private:
    // Two bits for each hash in a small table: what has not both was never added.
    class Filter {
      public:
        void make_room(size_t many) {
            size_t size = 16;
            while (size * 4 < many) size *= 2;
            bits_.assign(size, 0);
        }
        void add(uint64_t head) {
            const uint64_t hash = scattered(head), mask = bits_.size() - 1;
            bits_[hash >> 6 & mask] |= 1ULL << (hash & 63);
            bits_[hash >> 40 & mask] |= 1ULL << (hash >> 34 & 63);
        }
        bool may_have(uint64_t head) const {
            const uint64_t hash = scattered(head), mask = bits_.size() - 1;
            return (bits_[hash >> 6 & mask] >> (hash & 63) & 1) && (bits_[hash >> 40 & mask] >> (hash >> 34 & 63) & 1);
        }

      private:
        static uint64_t scattered(uint64_t head) {
            head *= 0xd6e8feb86659fd93ULL;
            head ^= head >> 32;
            return head * 0xd6e8feb86659fd93ULL;
        }
        std::vector<uint64_t> bits_ = std::vector<uint64_t>(16);
    };

    // An original by its hash; `number` is one more than its number, 0 for none.
    struct Slot {
        uint32_t tag = 0, number = 0;
    };

    void make_room(size_t many) {
        size_t size = 64;
        while (size * 3 < many * 4) size *= 2;
        wholes_.assign(size, Slot());
        heads_.make_room(many);
        heads_and_lengths_.make_room(many);
    }

    void add(const std::string &text, uint32_t number) {
        const bool is_long = text.size() >= LONG;
        const uint64_t head = is_long ? head_at(text.data()) : short_head_at(text.data());
        any_short_ = any_short_ || !is_long;
        heads_.add(head);
        heads_and_lengths_.add(with_length(head, text.size()));
        if (lengths_known_.insert(text.size()).second) lengths_.push_back(text.size());
        const uint64_t hash = hash_of(text), mask = wholes_.size() - 1;
        size_t place = hash & mask;
        while (wholes_[place].number) place = (place + 1) & mask;
        wholes_[place] = {static_cast<uint32_t>(hash >> 32), number + 1};
    }

    void compare(std::string_view text, size_t at, uint64_t head, std::vector<Leak> &found) const {
        for (const size_t length : lengths_) {
            if (at + length > text.size()) return;
            if (!heads_and_lengths_.may_have(with_length(head, length))) continue;
            const std::string_view here = text.substr(at, length);
            const uint64_t hash = hash_of(here), mask = wholes_.size() - 1;
            for (size_t place = hash & mask; wholes_[place].number; place = (place + 1) & mask) {
                const Slot &slot = wholes_[place];
                if (slot.tag != static_cast<uint32_t>(hash >> 32)) continue;
                if (in_lower(legend_->pair(slot.number - 1).second) == in_lower(here))
                    found.push_back({slot.number - 1, at, at + length});
            }
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
    static bool is_word(char sign) { return std::isalnum(static_cast<unsigned char>(sign)) || sign == '_'; }
    static std::string in_lower(std::string_view text) {
        std::string made(text);
        for (char &sign : made)
            if (sign >= 'A' && sign <= 'Z') sign += 32;
        return made;
    }

    std::shared_ptr<Legend> legend_;
    std::vector<Slot> wholes_ = std::vector<Slot>(64);
    Filter heads_, heads_and_lengths_;
    std::vector<size_t> lengths_;
    std::unordered_set<size_t> lengths_known_;
    bool any_short_ = false;
};

}  // namespace redact
