// From placeholders back to originals: a set of pairs in one stretch of memory, since there may be millions.
#pragma once

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <functional>
#include <numeric>
#include <stdexcept>
#include <string>
#include <string_view>
#include <unordered_set>
#include <vector>

namespace redact {

class Legend {
  public:
    // Note that an original was met once more; gives the number of the pair.
    size_t add(std::string_view placeholder, std::string_view original) {
        if (starts_.size() * 2 >= table_.size()) grow();
        const uint64_t hash = hash_of(placeholder, original);
        for (size_t place = hash & (table_.size() - 1);; place = (place + 1) & (table_.size() - 1)) {
            if (!table_[place]) {
                table_[place] = static_cast<uint32_t>(starts_.size() + 1);
                starts_.push_back(arena_.size());
                put(placeholder);
                put(original);
                times_.push_back(1);
                return starts_.size() - 1;
            }
            const auto [one, other] = pair(table_[place] - 1);
            if (one == placeholder && other == original) {
                times_[table_[place] - 1]++;
                return table_[place] - 1;
            }
        }
    }

    // Of a pair that was handed on meanwhile nothing is counted any more.
    void count(size_t number) {
        if (number < times_.size()) times_[number]++;
    }
    uint64_t times(size_t number) const { return times_[number]; }

    void clear() {
        arena_.clear();
        starts_.clear();
        times_.clear();
        table_.clear();
    }

    size_t size() const { return starts_.size(); }

    // How many different placeholders there are.
    size_t placeholders() const {
        std::unordered_set<uint64_t> known;
        for (size_t number = 0; number < size(); number++) known.insert(std::hash<std::string_view>{}(pair(number).first));
        return known.size();
    }

    // The numbers of the pairs that were met most often; of those met as often, the first in order of their texts.
    std::vector<size_t> most_often(size_t many) const {
        std::vector<size_t> numbers(size());
        std::iota(numbers.begin(), numbers.end(), 0);
        many = std::min(many, numbers.size());
        std::partial_sort(numbers.begin(), numbers.begin() + many, numbers.end(), [this](size_t one, size_t other) {
            return times_[one] != times_[other] ? times_[one] > times_[other] : pair(one) < pair(other);
        });
        numbers.resize(many);
        return numbers;
    }

    std::pair<std::string_view, std::string_view> pair(size_t number) const {
        const char *at = arena_.data() + starts_[number];
        const std::string_view placeholder = taken(at);
        return {placeholder, taken(at)};
    }

    // All pairs as they lie in memory, for another process or to be kept; `unpack` adds them.
    const std::string &packed() const { return arena_; }
    void merge(const Legend &other) {
        for (size_t number = 0; number < other.size(); number++) {
            const auto [placeholder, original] = other.pair(number);
            add(placeholder, original);
        }
    }
    void unpack(std::string_view packed) {
        const char *at = packed.data(), *end = at + packed.size();
        while (at < end) {
            const std::string_view placeholder = taken_before(at, end);
            add(placeholder, taken_before(at, end));
        }
    }

  private:
    static uint64_t hash_of(std::string_view placeholder, std::string_view original) {
        const std::hash<std::string_view> hash;
        return hash(placeholder) * 0x9e3779b97f4a7c15ULL ^ hash(original);
    }
    void put(std::string_view text) {
        const auto size = static_cast<uint32_t>(text.size());
        arena_.append(reinterpret_cast<const char *>(&size), sizeof size);
        arena_.append(text);
    }
    static std::string_view taken(const char *&at) {
        uint32_t size;
        std::memcpy(&size, at, sizeof size);
        const std::string_view text(at + sizeof size, size);
        at += sizeof size + size;
        return text;
    }
    static std::string_view taken_before(const char *&at, const char *end) {
        uint32_t size = 0;
        if (static_cast<size_t>(end - at) >= sizeof size) std::memcpy(&size, at, sizeof size);
        if (static_cast<size_t>(end - at) < sizeof size + size) throw std::invalid_argument("the legend is cut off");
        return taken(at);
    }
    void grow() {
        table_.assign(std::max<size_t>(table_.size() * 2, 64), 0);
        for (size_t number = 0; number < starts_.size(); number++) {
            const auto [placeholder, original] = pair(number);
            size_t place = hash_of(placeholder, original) & (table_.size() - 1);
            while (table_[place]) place = (place + 1) & (table_.size() - 1);
            table_[place] = static_cast<uint32_t>(number + 1);
        }
    }

    std::string arena_;
    std::vector<uint64_t> starts_;
    std::vector<uint32_t> times_;
    std::vector<uint32_t> table_;
};

}  // namespace redact
