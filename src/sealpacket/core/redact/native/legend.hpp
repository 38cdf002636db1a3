// From placeholders back to originals: a set of pairs in one stretch of memory. There may be more than memory holds:
// then what is here is handed on in order, to be kept elsewhere, and begun anew (see legend.py).
#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <cstring>
#include <functional>
#include <numeric>
#include <set>
#include <stdexcept>
#include <string>
#include <string_view>
#include <unordered_map>
#include <unordered_set>
#include <vector>

namespace redact {

// A text behind its length (32 bits, little-endian): how pairs are packed.
inline void put_text(std::string &out, std::string_view text) {
    const auto size = static_cast<uint32_t>(text.size());
    out.append(reinterpret_cast<const char *>(&size), sizeof size);
    out.append(text);
}
inline std::string_view text_at(const char *&at) {
    uint32_t size;
    std::memcpy(&size, at, sizeof size);
    const std::string_view text(at + sizeof size, size);
    at += sizeof size + size;
    return text;
}
// Nothing if the text is cut off; then `at` stays where it is.
inline bool whole_text_at(const char *&at, const char *end, std::string_view &text) {
    uint32_t size = 0;
    if (static_cast<size_t>(end - at) < sizeof size) return false;
    std::memcpy(&size, at, sizeof size);
    if (static_cast<size_t>(end - at) - sizeof size < size) return false;
    text = text_at(at);
    return true;
}

// Every whole pair of what is packed; gives how many bytes they have.
template <typename Take>
size_t each_pair(std::string_view packed, Take take) {
    const char *at = packed.data(), *done = at, *end = at + packed.size();
    std::string_view placeholder, original;
    while (whole_text_at(at, end, placeholder) && whole_text_at(at, end, original)) {
        take(placeholder, original);
        done = at;
    }
    return done - packed.data();
}

// The same where how often it was met (32 bits) stands before each.
template <typename Take>
void each_counted(std::string_view block, Take take) {
    const char *at = block.data(), *end = at + block.size();
    std::string_view placeholder, original;
    uint32_t times;
    while (static_cast<size_t>(end - at) >= sizeof times) {
        std::memcpy(&times, at, sizeof times);
        at += sizeof times;
        if (!whole_text_at(at, end, placeholder) || !whole_text_at(at, end, original))
            throw std::invalid_argument("a part of a legend is cut off");
        take(times, placeholder, original);
    }
}

class Legend {
  public:
    // Note that an original was met so many times more; gives the number of the pair.
    size_t add(std::string_view placeholder, std::string_view original, uint32_t times = 1) {
        if (starts_.size() * 2 >= table_.size()) grow();
        const uint32_t hash = hash_of(placeholder, original);
        size_t place = hash & (table_.size() - 1);
        for (; table_[place].number; place = (place + 1) & (table_.size() - 1)) {
            if (table_[place].hash != hash) continue;
            const size_t number = table_[place].number - 1;
            if (pair(number) != std::pair(placeholder, original)) continue;
            times_[number] += times;
            return gone_ + number;
        }
        starts_.push_back(arena_.size());
        put_text(arena_, placeholder);
        put_text(arena_, original);
        times_.push_back(times);
        table_[place] = {static_cast<uint32_t>(starts_.size()), hash};
        return gone_ + starts_.size() - 1;
    }

    // Count a pair by its number; false if it has to be added anew.
    bool count(size_t number) {
        if (number >= gone_) times_[number - gone_]++;
        return number >= gone_ || number < forgotten_;
    }
    uint64_t times(size_t number) const { return times_[number]; }

    // Begin anew. Pairs that `are_known` elsewhere are not added again when they are met, only no longer counted.
    void clear(bool are_known) {
        gone_ += size();
        if (are_known) forgotten_ = gone_;
        std::string().swap(arena_);  // and gives the memory back
        std::vector<uint64_t>().swap(starts_);
        std::vector<Slot>().swap(table_);
        for (std::vector<uint32_t> *one : {&times_, &order_}) std::vector<uint32_t>().swap(*one);
    }

    // How many bytes it takes.
    size_t memory() const {
        return arena_.capacity() + starts_.capacity() * sizeof(uint64_t) +
               times_.capacity() * sizeof(uint32_t) + table_.capacity() * sizeof(Slot);
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
        const std::string_view placeholder = text_at(at);
        return {placeholder, text_at(at)};
    }

    // As they lie in memory, for another process or to be kept (`unpack` adds them): whole pairs of about that many bytes from the pair `start` on, and the first that is not among them.
    std::pair<std::string_view, size_t> packed_part(size_t start, size_t bytes) const {
        size_t stop = start;
        while (stop < size() && starts_[stop] - starts_[start] < bytes) stop++;
        const size_t begin = start < size() ? starts_[start] : arena_.size();
        const size_t end = stop < size() ? starts_[stop] : arena_.size();
        return {std::string_view(arena_).substr(begin, end - begin), stop};
    }
    // The same in order of the texts, how often each was met (32 bits) before it.
    std::pair<std::string, size_t> sorted_part(size_t start, size_t bytes) {
        if (order_.size() != size()) put_in_order();
        std::string made;
        while (start < size() && made.size() < bytes) {
            const uint32_t number = order_[start++];
            made.append(reinterpret_cast<const char *>(&times_[number]), sizeof(uint32_t));
            const auto [placeholder, original] = pair(number);
            put_text(made, placeholder);
            put_text(made, original);
        }
        return {std::move(made), start};
    }
    void merge(const Legend &other) {
        for (size_t number = 0; number < other.size(); number++) {
            const auto [placeholder, original] = other.pair(number);
            add(placeholder, original, other.times_[number]);
        }
    }
    // Add every whole pair; gives how many bytes they had.
    size_t unpack(std::string_view packed) {
        return each_pair(packed, [this](std::string_view placeholder, std::string_view original) { add(placeholder, original); });
    }

  private:
    struct Slot {
        uint32_t number = 0, hash = 0;  // the number of a pair and one more; 0 if it is free
    };

    static uint32_t hash_of(std::string_view placeholder, std::string_view original) {
        const std::hash<std::string_view> hash;
        return static_cast<uint32_t>((hash(placeholder) * 0x9e3779b97f4a7c15ULL ^ hash(original)) >> 8);
    }
    void grow() {
        std::vector<Slot> before(std::max<size_t>(table_.size() * 2, 64));
        before.swap(table_);
        for (const Slot &slot : before) {
            if (!slot.number) continue;
            size_t place = slot.hash & (table_.size() - 1);
            while (table_[place].number) place = (place + 1) & (table_.size() - 1);
            table_[place] = slot;
        }
    }

    // By their texts. The first signs are compared as numbers, which need no look into the texts: a label is no longer.
    void put_in_order() {
        struct Entry {
            std::array<uint64_t, 2> begins;
            uint32_t number;
        };
        std::vector<Entry> entries;
        entries.reserve(size());
        for (uint32_t number = 0; number < size(); number++) {
            const std::string_view text = pair(number).first;
            Entry entry{{}, number};
            for (size_t at = 0; at < 16; at++)
                entry.begins[at / 8] = entry.begins[at / 8] << 8 | (at < text.size() ? static_cast<uint8_t>(text[at]) : 0);
            entries.push_back(entry);
        }
        std::sort(entries.begin(), entries.end(), [this](const Entry &one, const Entry &other) {
            return one.begins != other.begins ? one.begins < other.begins : pair(one.number) < pair(other.number);
        });
        order_.clear();
        for (const Entry &entry : entries) order_.push_back(entry.number);
    }

    std::string arena_;
    std::vector<uint64_t> starts_;
    std::vector<uint32_t> times_;
    std::vector<Slot> table_;
    std::vector<uint32_t> order_;
    size_t gone_ = 0, forgotten_ = 0;  // pairs that are no longer here, and of them those that need not be told again
};

// What is looked for in a legend that is too large to be in memory: a few originals (in lower case) and placeholders.
class Wanted {
  public:
    Wanted(const std::vector<std::string> &originals, const std::vector<std::string> &placeholders)
        : placeholders_(placeholders.begin(), placeholders.end()) {
        for (const std::string &one : originals) originals_[one];
    }

    void look(std::string_view packed) {
        std::string lower;
        each_pair(packed, [&](std::string_view placeholder, std::string_view original) {
            if (!placeholders_.empty()) {
                const std::string written(as_written(placeholder));
                if (placeholders_.contains(written)) known.insert(written);
            }
            lower.assign(original);
            for (char &sign : lower)
                if (sign >= 'A' && sign <= 'Z') sign += 32;
            const auto found = originals_.find(lower);
            if (found != originals_.end()) found->second.emplace(placeholder, original);
        });
    }

    // As it stands in a copy: without the label before a placeholder of another shape.
    static std::string_view as_written(std::string_view noted) {
        if (noted.empty() || noted[0] != '[') return noted;
        size_t at = 1;
        while (at < noted.size() && noted[at] >= 'a' && noted[at] <= 'z') at++;
        const size_t end = noted.find(']', at);
        if (at == 1 || at >= noted.size() || noted[at] != ':' || end >= noted.size() - 1) return noted;
        return noted.substr(end + 1);
    }

    // The pairs of each original that was found, and the placeholders that were.
    const std::unordered_map<std::string, std::set<std::pair<std::string, std::string>>> &originals() const {
        return originals_;
    }
    std::unordered_set<std::string> known;

  private:
    std::unordered_map<std::string, std::set<std::pair<std::string, std::string>>> originals_;
    std::unordered_set<std::string> placeholders_;
};

}  // namespace redact
