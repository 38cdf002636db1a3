// Sets of detectors, as bits.
#pragma once

#include <array>
#include <bit>
#include <cstddef>
#include <cstdint>

namespace redact {

// Which detectors, and what else, an anchor stands for.
struct Bits {
    static constexpr size_t WORDS = 18, MOST = WORDS * 64;
    std::array<uint64_t, WORDS> words{};

    void set(size_t bit) { words[bit / 64] |= 1ULL << (bit % 64); }
    void clear(size_t bit) { words[bit / 64] &= ~(1ULL << (bit % 64)); }
    bool has(size_t bit) const { return words[bit / 64] >> (bit % 64) & 1; }
    bool any() const {
        for (uint64_t word : words)
            if (word) return true;
        return false;
    }
    Bits &operator|=(const Bits &other) {
        for (size_t place = 0; place < WORDS; place++) words[place] |= other.words[place];
        return *this;
    }
    Bits operator&(const Bits &other) const {
        Bits made;
        for (size_t place = 0; place < WORDS; place++) made.words[place] = words[place] & other.words[place];
        return made;
    }
    bool operator==(const Bits &) const = default;

    template <typename Do>
    void each(Do &&act) const {
        for (size_t place = 0; place < WORDS; place++)
            for (uint64_t word = words[place]; word; word &= word - 1) act(place * 64 + std::countr_zero(word));
    }
};

struct HashOfBits {
    size_t operator()(const Bits &bits) const {
        uint64_t hash = 0;
        for (uint64_t word : bits.words) hash = (hash ^ word) * 0x9e3779b97f4a7c15ULL;
        return hash ^ (hash >> 31);
    }
};

}  // namespace redact
