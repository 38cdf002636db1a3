// Searching a copy for every original of a legend: the leak check's own search, which shares nothing with the finder.
//
// An original of eight bytes or more is found by its first eight; a shorter one only where a word may begin, since it
// counts only where it stands alone.
#pragma once

#include <cctype>
#include <cstdint>
#include <cstring>
#include <memory>
#include <string>
#include <string_view>
#include <unordered_map>
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
        for (size_t number = 0; number < legend_->size(); number++) {
            const std::string text = in_lower(legend_->pair(number).second);
            if (text.size() < SHORTEST || exempt.contains(text)) continue;
            searched++;
            longest = std::max(longest, text.size());
            add(text, static_cast<uint32_t>(number));
        }
        long_heads_ = Filter(heads_);
        short_heads_ = Filter(shorts_);
    }

    // Where originals stand: their numbers in the legend, and the places.
    std::vector<Leak> search(std::string_view text) const {
        std::vector<Leak> found;
        if (!heads_.empty())
            for (size_t at = 0; at + LONG <= text.size(); at++) {
                const uint64_t head = head_at(text.data() + at);
                if (long_heads_.may_have(head)) [[unlikely]] compare(text, at, heads_, head, found);
            }
        if (shorts_.empty()) return found;
        for (size_t at = 0; at + SHORTEST <= text.size(); at++) {
            if (at > 0 && is_word(text[at - 1]) && is_word(text[at])) continue;
            uint32_t four;
            std::memcpy(&four, text.data() + at, 4);
            four |= 0x20202020U;
            if (short_heads_.may_have(four)) [[unlikely]] compare(text, at, shorts_, four, found);
        }
        return found;
    }

    std::pair<std::string_view, std::string_view> pair(size_t number) const { return legend_->pair(number); }

    size_t searched = 0, longest = 0;

  private:
    using Lengths = std::unordered_map<uint64_t, std::vector<uint32_t>>;

    // Two bits for each head in a small table: what has not both is no head.
    class Filter {
      public:
        Filter() = default;
        explicit Filter(const Lengths &heads) {
            size_t size = 16;
            while (size < heads.size()) size *= 2;
            bits_.resize(size);
            for (const auto &[head, lengths] : heads) {
                const uint64_t hash = scattered(head);
                bits_[hash >> 6 & (size - 1)] |= 1ULL << (hash & 63);
                bits_[hash >> 40 & (size - 1)] |= 1ULL << (hash >> 34 & 63);
            }
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
        std::vector<uint64_t> bits_;
    };

    void add(const std::string &text, uint32_t number) {
        const bool is_long = text.size() >= LONG;
        uint64_t head = 0;
        std::memcpy(&head, text.data(), is_long ? 8 : 4);
        auto &lengths = is_long ? heads_[head | 0x2020202020202020ULL] : shorts_[head | 0x20202020U];
        const auto length = static_cast<uint32_t>(text.size());
        if (std::find(lengths.begin(), lengths.end(), length) == lengths.end()) lengths.push_back(length);
        wholes_.emplace(hash_of(text), number);
    }

    void compare(std::string_view text, size_t at, const Lengths &by_head, uint64_t head,
                 std::vector<Leak> &found) const {
        const auto lengths = by_head.find(head);
        if (lengths == by_head.end()) return;
        for (const uint32_t length : lengths->second) {
            if (at + length > text.size()) continue;
            const std::string_view here = text.substr(at, length);
            const auto [first, last] = wholes_.equal_range(hash_of(here));
            for (auto one = first; one != last; ++one)
                if (in_lower(legend_->pair(one->second).second) == in_lower(here))
                    found.push_back({one->second, at, at + length});
        }
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
    Lengths heads_, shorts_;
    std::unordered_multimap<uint64_t, uint32_t> wholes_;
    Filter long_heads_, short_heads_;
};

}  // namespace redact
