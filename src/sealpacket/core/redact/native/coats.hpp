// Whether a text is one, and whether a line can wear a coat at all: base64 or hex of something that reads like text.
// Python takes it off.
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <string_view>

namespace redact {

// What each sign stands for in base64 (RFC 4648, either alphabet) and in hex; -1 for nothing.
struct SignsOfCoats {
    std::array<int8_t, 256> sixtyfour{}, sixteen{};
    constexpr SignsOfCoats() {
        sixtyfour.fill(-1);
        sixteen.fill(-1);
        for (int place = 0; place < 26; place++) {
            sixtyfour['A' + place] = static_cast<int8_t>(place);
            sixtyfour['a' + place] = static_cast<int8_t>(place + 26);
        }
        for (int place = 0; place < 10; place++) {
            sixtyfour['0' + place] = static_cast<int8_t>(place + 52);
            sixteen['0' + place] = static_cast<int8_t>(place);
        }
        for (int place = 0; place < 6; place++) sixteen['a' + place] = sixteen['A' + place] = static_cast<int8_t>(place + 10);
        sixtyfour['+'] = sixtyfour['-'] = 62;
        sixtyfour['/'] = sixtyfour['_'] = 63;
    }
};
inline constexpr SignsOfCoats OF_COATS;
inline int sixtyfour(char sign) { return OF_COATS.sixtyfour[static_cast<uint8_t>(sign)]; }
inline int sixteen(char sign) { return OF_COATS.sixteen[static_cast<uint8_t>(sign)]; }

inline bool is_utf8(const std::string &bytes) {
    for (size_t at = 0; at < bytes.size();) {
        const auto lead = static_cast<uint8_t>(bytes[at]);
        const size_t more = lead < 0x80 ? 0 : lead >> 5 == 6 ? 1 : lead >> 4 == 14 ? 2 : lead >> 3 == 30 ? 3 : 9;
        if (more == 9 || at + more >= bytes.size() + (more == 0)) return false;
        for (size_t next = 1; next <= more; next++)
            if (static_cast<uint8_t>(bytes[at + next]) >> 6 != 2) return false;
        at += more + 1;
    }
    return true;
}

// A little more lenient than `reads_like_text`, never stricter.
inline bool may_read_like_text(const std::string &bytes) {
    if (bytes.size() < 6) return false;
    size_t odd = 0, nuls = 0;
    for (char sign : bytes) {
        odd += !((sign >= 32 && sign < 127) || sign == '\t' || sign == '\r' || sign == '\n');
        nuls += sign == 0;
    }
    return odd * 10 <= bytes.size() || nuls * 5 >= bytes.size() || is_utf8(bytes);
}

// `knows(text)`: whether there may be something known in what does not read like text.
template <typename Knows> bool may_be_coated(std::string_view run, std::string &space, const Knows &knows) {
    if (run.size() > 2 && (run[0] == 'x' || run[0] == 'X' || (run[0] == '0' && (run[1] == 'x' || run[1] == 'X'))))
        run.remove_prefix(run[0] == '0' ? 2 : 1);
    bool hex = run.size() % 2 == 0;
    for (size_t place = 0; hex && place < run.size(); place++) hex = sixteen(run[place]) >= 0;
    if (hex) {
        space.resize(run.size() / 2);
        for (size_t place = 0; place < run.size(); place += 2)
            space[place / 2] = static_cast<char>(sixteen(run[place]) << 4 | sixteen(run[place + 1]));
        if (may_read_like_text(space) || knows(space)) return true;
    }
    if (run.size() < 16 || run.size() % 4 == 1) return false;
    space.resize(run.size() * 6 / 8);
    uint32_t bits = 0, count = 0;
    size_t made = 0;
    for (char sign : run) {
        bits = bits << 6 | sixtyfour(sign);
        if ((count += 6) >= 8) space[made++] = static_cast<char>(bits >> (count -= 8));
    }
    return may_read_like_text(space) || knows(space);
}

// Whether any token of twelve signs or more on the line may wear a coat.
template <typename Knows> bool may_wear_coat(std::string_view line, std::string &space, const Knows &knows) {
    for (size_t at = 0; at < line.size();) {
        size_t end = at;
        while (end < line.size() && sixtyfour(line[end]) >= 0) end++;
        if (end - at >= 12 && may_be_coated(line.substr(at, end - at), space, knows)) return true;
        at = end + 1;
    }
    return false;
}

// Whether the line is nothing but base64, as where it goes over several lines.
inline bool is_wrapped_base64(std::string_view line) {
    if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
    while (!line.empty() && (line.front() == ' ' || line.front() == '\t' || line.front() == '>')) line.remove_prefix(1);
    if (line.size() < 40 || line.size() > 100) return false;
    for (char sign : line)
        if (sixtyfour(sign) < 0 || sign == '-' || sign == '_') return false;
    return true;
}

// How many bytes there are that no text has, NULs apart, and how many NULs.
struct OddBytes {
    size_t odd = 0, nuls = 0;
};
inline OddBytes odd_bytes(std::string_view text) {
    OddBytes made;
    const auto count = [&](const char *from, size_t many) {
        uint8_t odd = 0, nuls = 0;  // small sums, so that many signs are counted at once
        for (size_t at = 0; at < many; at++) {
            const auto sign = static_cast<uint8_t>(from[at]);
            const bool low = sign < 8, high = static_cast<uint8_t>(sign - 14) < 13, last = static_cast<uint8_t>(sign - 28) < 4;
            odd += static_cast<uint8_t>(low | high | last | (sign == 127));
            nuls += static_cast<uint8_t>(sign == 0);
        }
        made.odd += odd;
        made.nuls += nuls;
    };
    constexpr size_t AT_ONCE = 128;
    size_t at = 0;
    for (; at + AT_ONCE <= text.size(); at += AT_ONCE) count(text.data() + at, AT_ONCE);
    count(text.data() + at, text.size() - at);
    made.odd -= made.nuls;
    return made;
}

}  // namespace redact
