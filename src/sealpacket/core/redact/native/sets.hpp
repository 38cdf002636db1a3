// Which of sixty-four bytes are in a set, as bits: for the leak check, which goes over the same bytes with many sets.
#pragma once

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>
#include <cstring>
#include <string_view>

#ifdef __x86_64__
#include <immintrin.h>
#endif

namespace redact {

// A set of ASCII signs; with `beyond`, all bytes beyond ASCII as well.
class SignSet {
  public:
    constexpr explicit SignSet(std::string_view signs, bool beyond = false) : beyond_(beyond) {
        for (const char sign : signs) rows_[sign & 15] |= static_cast<uint8_t>(1U << (sign >> 4));
    }

    constexpr bool has(char sign) const {
        const auto byte = static_cast<uint8_t>(sign);
        return byte < 128 ? rows_[byte & 15] >> (byte >> 4) & 1 : beyond_;
    }

    // Of the sixty-four bytes from a place of a text on; what is behind its end is in no set.
    uint64_t among(std::string_view text, size_t at) const {
        if (at + 64 <= text.size()) {
            return HOW_FAST == 2   ? shuffled_wide(text.data() + at)
                   : HOW_FAST == 1 ? shuffled(text.data() + at)
                                   : one_by_one(text.data() + at, 64);
        }
        return at < text.size() ? one_by_one(text.data() + at, text.size() - at) : 0;
    }

  private:
    uint64_t one_by_one(const char *at, size_t many) const {
        uint64_t mask = 0;
        for (size_t place = 0; place < many; place++) mask |= static_cast<uint64_t>(has(at[place])) << place;
        return mask;
    }

#ifdef __x86_64__
    // Whether the processor looks up sixteen signs at once (1), or thirty-two (2).
    static inline const int HOW_FAST = __builtin_cpu_supports("avx2") ? 2 : __builtin_cpu_supports("ssse3") ? 1 : 0;

    __attribute__((target("avx2"))) uint64_t shuffled_wide(const char *at) const {
        const __m256i rows = _mm256_broadcastsi128_si256(_mm_loadu_si128(reinterpret_cast<const __m128i *>(rows_.data())));
        const __m256i bits = _mm256_broadcastsi128_si256(_mm_setr_epi8(1, 2, 4, 8, 16, 32, 64, -128, 0, 0, 0, 0, 0, 0, 0, 0));
        const __m256i half = _mm256_set1_epi8(15);
        uint64_t mask = 0, high = 0;
        for (size_t part = 0; part < 2; part++) {
            const __m256i signs = _mm256_loadu_si256(reinterpret_cast<const __m256i *>(at + part * 32));
            const __m256i row = _mm256_shuffle_epi8(rows, _mm256_and_si256(signs, half));
            const __m256i bit = _mm256_shuffle_epi8(bits, _mm256_and_si256(_mm256_srli_epi16(signs, 4), half));
            const __m256i none = _mm256_cmpeq_epi8(_mm256_and_si256(row, bit), _mm256_setzero_si256());
            mask |= static_cast<uint64_t>(~static_cast<uint32_t>(_mm256_movemask_epi8(none))) << (part * 32);
            high |= static_cast<uint64_t>(static_cast<uint32_t>(_mm256_movemask_epi8(signs))) << (part * 32);
        }
        return beyond_ ? mask | high : mask;
    }

    // A sign's low half tells the row, its high half the bit in it; both are looked up for sixteen signs at once.
    __attribute__((target("ssse3"))) uint64_t shuffled(const char *at) const {
        const __m128i rows = _mm_loadu_si128(reinterpret_cast<const __m128i *>(rows_.data()));
        const __m128i bits = _mm_setr_epi8(1, 2, 4, 8, 16, 32, 64, -128, 0, 0, 0, 0, 0, 0, 0, 0);
        const __m128i half = _mm_set1_epi8(15);
        uint64_t mask = 0, high = 0;
        for (size_t part = 0; part < 4; part++) {
            const __m128i signs = _mm_loadu_si128(reinterpret_cast<const __m128i *>(at + part * 16));
            const __m128i row = _mm_shuffle_epi8(rows, _mm_and_si128(signs, half));
            const __m128i bit = _mm_shuffle_epi8(bits, _mm_and_si128(_mm_srli_epi16(signs, 4), half));
            const __m128i none = _mm_cmpeq_epi8(_mm_and_si128(row, bit), _mm_setzero_si128());
            mask |= static_cast<uint64_t>(static_cast<uint16_t>(~_mm_movemask_epi8(none))) << (part * 16);
            high |= static_cast<uint64_t>(static_cast<uint16_t>(_mm_movemask_epi8(signs))) << (part * 16);
        }
        return beyond_ ? mask | high : mask;
    }
#else
    static constexpr int HOW_FAST = 0;
    uint64_t shuffled_wide(const char *at) const { return one_by_one(at, 64); }
    uint64_t shuffled(const char *at) const { return one_by_one(at, 64); }
#endif

    std::array<uint8_t, 16> rows_{};
    bool beyond_;
};

// The places of all signs of a set, in order.
template <typename Found>
void for_each_of(std::string_view text, const SignSet &set, Found found) {
    for (size_t base = 0; base < text.size(); base += 64)
        for (uint64_t signs = set.among(text, base); signs; signs &= signs - 1) found(base + std::countr_zero(signs));
}

// The runs of at least so many signs of a set (64 at most), in order: `found(start, end)` gives from where to look on.
template <typename Found>
void for_each_run_of(std::string_view text, const SignSet &set, size_t shortest, Found found) {
    size_t next = 0;
    uint64_t here = set.among(text, 0);
    for (size_t base = 0; base < text.size(); base += 64) {
        const uint64_t after = set.among(text, base + 64);
        unsigned __int128 all = static_cast<unsigned __int128>(after) << 64 | here;
        size_t many = 1;
        for (; many * 2 <= shortest; many *= 2) all &= all >> many;
        all &= all >> (shortest - many);
        for (auto begins = static_cast<uint64_t>(all); begins; begins &= begins - 1) {
            const size_t start = base + std::countr_zero(begins);
            if (start < next) continue;
            size_t end = start + shortest;
            while (end < text.size() && set.has(text[end])) end++;
            next = std::max(found(start, end), end);
        }
        here = after;
    }
}

}  // namespace redact
