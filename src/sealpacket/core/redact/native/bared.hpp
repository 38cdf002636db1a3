// For the leak check: where coats of single characters have their marks, texts with their lines put together, and what
// stands in base64 and hex anywhere in a text, decoded, one under the other. Written apart from coats.hpp, which serves the finder.
#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <cstring>
#include <string>
#include <string_view>
#include <vector>

#include "sets.hpp"

namespace redact {

// Where lines were put together in a text: the first sign of each but the first line. What does not go over one of these
// places stands in the text as it came, and need not be looked for again; without any places, all is looked at.
using Joins = std::vector<size_t>;

// Marks of the coats that a text can wear, a bit each: percent, entity, backslash, equals sign before hex or a line end,
// escape, NUL, a dot or an at sign in brackets, signs beyond ASCII that stand for others, words of mail headers.
class CoatMarks {
  public:
    // Which of them it has; if places are given, only of those that may go over one.
    static unsigned in(std::string_view text, const Joins *joins) {
        constexpr size_t WIDEST = 4;
        unsigned found = 0;
        const auto look = [&](size_t at) {
            const unsigned sort = SORTS[static_cast<uint8_t>(text[at])];
            if ((sort & ~found) && is_one(text, at, sort)) found |= sort;
        };
        if (joins) {
            for (const size_t join : *joins)
                for (size_t at = join < WIDEST ? 0 : join - WIDEST; at < std::min(join + WIDEST, text.size()); at++) look(at);
            return found;
        }
        for_each_of(text, MARKS, look);
        return found;
    }

    // Where they stand: for each mark of a sort its line and those beside it, but no more than so many signs to either
    // side; one stretch under the other. A value that wears such a coat has a mark and lies in one of them.
    static std::string stretches(std::string_view text, unsigned sort, size_t around) {
        std::string out;
        size_t start = 0, end = 0;  // of a stretch that may go on
        for_each_of(text, MARKS, [&](size_t at) {
            if (!(SORTS[static_cast<uint8_t>(text[at])] & sort) || !is_one(text, at, sort)) return;
            const size_t low = at < around ? 0 : at - around, high = std::min(at + around, text.size());
            const size_t begin = line_before(text, line_before(text, at, low), low);
            if (begin > end) {
                take(text.substr(start, end - start), out);
                start = begin;
            }
            end = std::max(end, line_behind(text, line_behind(text, at, high), high));
        });
        if (start == 0 && end == text.size()) return std::string(text);
        take(text.substr(start, end - start), out);
        return out;
    }

  private:
    static constexpr auto SORTS = [] {
        std::array<uint16_t, 256> made{};
        for (const uint8_t lead : {0xc2, 0xcc, 0xcd, 0xe2, 0xe3, 0xef}) made[lead] = 128;
        made['%'] = 1;
        made['&'] = 2;
        made['\\'] = 4;
        made['='] = 8;
        made[0x1b] = 16;
        made[0] = 32;
        made[']'] = made[')'] = 64;
        made['?'] = 256;
        return made;
    }();

    // The ASCII signs that have a sort, and all beyond ASCII.
    static constexpr SignSet MARKS{std::string_view("%&\\=\x1b\0])?", 9), true};

    static bool is_one(std::string_view text, size_t at, unsigned sort) {
        const char next = at + 1 < text.size() ? text[at + 1] : 0, last = at + 2 < text.size() ? text[at + 2] : 0;
        const auto digit = [](char sign) { return sign >= '0' && sign <= '9'; };
        const auto hex = [&](char sign) { return digit(sign) || (sign >= 'A' && sign <= 'F'); };
        const auto any_hex = [&](char sign) { return hex(sign) || (sign >= 'a' && sign <= 'f'); };
        const auto byte = static_cast<uint8_t>(next), third = static_cast<uint8_t>(last);
        switch (sort) {
            case 1: return (any_hex(next) || next == 'u') && any_hex(last);
            case 2: return next == '#' || (next >= 'A' && next <= 'Z') || (next >= 'a' && next <= 'z');
            case 4: return next == 'u' || next == 'x' || next == '/' || (next >= '0' && next <= '3') || (any_hex(next) && any_hex(last));
            case 8: return next == '\n' || (next == '\r' && last == '\n') || (hex(next) && hex(last));
            case 64: {
                const std::string_view before = text.substr(at < 3 ? 0 : at - 3, std::min<size_t>(at, 3));
                return before.ends_with("[.") || before.ends_with("(.") || before.ends_with("[@") || before == "[at";
            }
            case 128:  // an accent by itself, a blank, a dash, a quote, a sign without a width, a wide letter
                switch (static_cast<uint8_t>(text[at])) {
                    case 0xc2: return byte == 0xa0 || byte == 0xad;
                    case 0xe2: return byte == 0x80 || byte == 0x81 || (byte == 0x88 && third == 0x92);
                    case 0xe3: return byte == 0x80 && third == 0x80;
                    case 0xef: return byte >= 0xbb && byte <= 0xbd;
                    default: return byte >= 0x80;
                }
            case 256: return at > 0 && text[at - 1] == '=';
            default: return true;
        }
    }
    // The end of the line before the one in which a place is, or the least that it may be.
    static size_t line_before(std::string_view text, size_t at, size_t low) {
        while (at > low && text[at - 1] != '\n') at--;
        return at > low ? at - 1 : low;
    }
    // Behind the end of the line in which a place is, or the most that it may be.
    static size_t line_behind(std::string_view text, size_t at, size_t high) {
        while (at < high && text[at] != '\n') at++;
        return at < high ? at + 1 : high;
    }
    static void take(std::string_view stretch, std::string &out) {
        if (!stretch.empty()) out.append(stretch).push_back('\n');
    }
};

class Decoder {
  public:
    // Runs of base64 (RFC 4648, either alphabet) of at least so many signs.
    static std::string base64(std::string_view text, size_t shortest, const Joins *joins) {
        return runs(text, shortest, IN_SIXTYFOUR, joins, [](std::string_view run, std::string &out) {
            if (run.size() % 4 == 1) return;
            out.resize(run.size() * 3 / 4);
            size_t at = 0, made = 0;
            const auto bits = [&](size_t place) { return static_cast<uint32_t>(value(SIXTYFOUR, run[place]) & 63); };
            for (; at + 4 <= run.size(); at += 4) {
                const uint32_t four = bits(at) << 18 | bits(at + 1) << 12 | bits(at + 2) << 6 | bits(at + 3);
                out[made++] = static_cast<char>(four >> 16);
                out[made++] = static_cast<char>(four >> 8);
                out[made++] = static_cast<char>(four);
            }
            if (at + 2 <= run.size()) out[made++] = static_cast<char>(bits(at) << 2 | bits(at + 1) >> 4);
            if (at + 3 == run.size()) out[made++] = static_cast<char>(bits(at + 1) << 4 | bits(at + 2) >> 2);
        });
    }

    // Runs of hex digits of at least so many signs.
    static std::string hex(std::string_view text, size_t shortest, const Joins *joins) {
        return runs(text, shortest, IN_SIXTEEN, joins, [](std::string_view run, std::string &out) {
            for (size_t at = 0; at + 2 <= run.size(); at += 2)
                out.push_back(static_cast<char>(value(SIXTEEN, run[at]) << 4 | value(SIXTEEN, run[at + 1])));
        });
    }

    // Bytes in hex with a blank or a colon between each two: eight of them at least.
    static std::string spaced_hex(std::string_view text, const Joins *joins) {
        std::string out, made;
        const auto look = [&](size_t at) {
            size_t next = at;
            while (next > 0 && (digit(text[next - 1]) || parts(text[next - 1]))) next--;
            made.clear();
            for (; next + 1 < text.size(); next++) {
                if (digit(text[next]) && digit(text[next + 1])) {
                    made.push_back(static_cast<char>(value(SIXTEEN, text[next]) << 4 | value(SIXTEEN, text[next + 1])));
                    if (next + 2 < text.size() && parts(text[next + 2])) {
                        next += 2;
                        continue;
                    }
                    next++;
                }
                if (made.size() >= 8) take(made, out);
                made.clear();
                if (next >= at && !digit(text[next]) && !parts(text[next])) break;
            }
            if (made.size() >= 8) take(made, out);
            return std::max(next, at);
        };
        size_t at = 0;
        // Eight bytes are 23 signs.
        if (!joins) for_each_run_of(text, IN_PAIRS, 23, [&](size_t start, size_t end) {
            for (at = start; at + 2 < end; at += 20)
                if (in_pairs(text, at)) at = look(at);
            return end;
        });
        // What goes over a place has three signs at least on one side of it.
        for (const size_t join : joins ? *joins : Joins())
            for (const size_t side : {join < 3 ? 0 : join - 3, join})
                if (side >= at && side + 2 < text.size() && in_pairs(text, side)) at = look(side);
        return out;
    }

    // Bytes written as numbers, eight of them at least: in hex, with 0x before each or not, or as decimals.
    static std::string numbers(std::string_view text, const Joins *joins) {
        constexpr size_t SHORTEST = 15;
        std::string out;
        for_each_run(text, IN_NUMBERS, SHORTEST, joins, [&](size_t start, size_t end) {
            row_of_numbers(text.substr(start, end - start), out);
            return end;
        });
        return out;
    }

    // What lines of a dump stand for, put together; and once more with the bytes of each two changed about.
    static std::string dumps(std::string_view text) {
        constexpr size_t SHORTEST = 12, LONGEST = 512;
        std::string out, joined;
        size_t group = 0, next = 0;
        const auto end_of_dump = [&] {
            if (joined.size() >= 8) {
                out.append(joined).push_back('\n');
                for (size_t at = 0; at + 1 < joined.size(); at += 2) std::swap(joined[at], joined[at + 1]);
                out.append(joined).push_back('\n');
            }
            joined.clear();
            group = 0;
        };
        const auto line_from = [&](size_t begin) {
            next = std::min(text.find('\n', begin), text.size()) + 1;
            const size_t length = next - 1 - std::min(begin, next - 1);
            const bool is_one = length > 0 && length <= LONGEST && dumped(text.substr(begin, length), group, joined);
            if (!is_one) end_of_dump();
            return is_one;
        };
        for_each_run(text, IN_DUMPS, SHORTEST, nullptr, [&](size_t start, size_t) {
            if (start < next) return next;
            size_t begin = start;
            while (begin > next && text[begin - 1] != '\n') begin--;
            if (begin > next) end_of_dump();
            while (line_from(begin)) begin = next;
            return next;
        });
        end_of_dump();
        return out;
    }

    // A text with its lines put together again, however they were broken, with this between them; and the places.
    static std::string joined(std::string_view text, std::string_view border, Joins &joins) {
        std::string out;
        out.reserve(text.size());
        for (size_t at = 0; at < text.size();) {
            const void *found = std::memchr(text.data() + at, '\n', text.size() - at);
            const size_t end = found ? static_cast<const char *>(found) - text.data() : text.size();
            size_t stop = end;
            if (found && stop > at && text[stop - 1] == '\r') stop--;
            if (found && stop > at && border.empty() && (text[stop - 1] == '=' || text[stop - 1] == '\\')) stop--;
            out.append(text.substr(at, stop - at));
            at = end + 1;
            if (!found) break;
            out.append(border);
            if (!border.empty())
                while (at < text.size() && text[at] == '>') at++;
            while (at < text.size() && (text[at] == ' ' || text[at] == '\t')) at++;
            joins.push_back(out.size());
        }
        return out;
    }

  private:
    using Table = std::array<int8_t, 256>;

    static constexpr Table table(std::string_view alphabet) {
        Table made{};
        for (auto &one : made) one = -1;
        for (size_t place = 0; place < alphabet.size(); place++)
            made[static_cast<uint8_t>(alphabet[place])] = static_cast<int8_t>(place);
        return made;
    }
    static constexpr Table sixtyfour() {
        Table made = table("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/");
        made['-'] = 62;
        made['_'] = 63;
        return made;
    }
    static constexpr Table sixteen() {
        Table made = table("0123456789abcdef");
        for (char sign = 'A'; sign <= 'F'; sign++) made[static_cast<uint8_t>(sign)] = static_cast<int8_t>(sign - 'A' + 10);
        return made;
    }
    static const Table SIXTYFOUR, SIXTEEN;
    static constexpr SignSet IN_SIXTYFOUR{"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/-_"};
    static constexpr SignSet IN_SIXTEEN{"0123456789abcdefABCDEF"}, IN_NUMBERS{"0123456789ABCDEFabcdefxX, -\\\n"};
    static constexpr SignSet IN_DUMPS{"0123456789ABCDEFabcdef "}, IN_PAIRS{"0123456789ABCDEFabcdef :"};

    // Runs of so many signs at least of a set. `found(start, end)` gives from where to look on.
    template <typename Found>
    static void for_each_run(std::string_view text, const SignSet &set, size_t shortest, const Joins *joins, Found found) {
        const auto look = [&](size_t at) {
            size_t start = at, end = at + 1;
            while (start > 0 && set.has(text[start - 1])) start--;
            while (end < text.size() && set.has(text[end])) end++;
            return end - start >= shortest ? std::max(found(start, end), end) : end;
        };
        if (!joins) return for_each_run_of(text, set, shortest, found);
        size_t next = 0;
        for (const size_t join : *joins)
            if (join > next && join < text.size() && set.has(text[join - 1]) && set.has(text[join]))
                next = look(join);
    }

    static void row_of_numbers(std::string_view text, std::string &out) {
        std::string as_hex, as_decimals;
        const auto end_of = [&](std::string &row) {
            if (row.size() >= 8) take(row, out);
            row.clear();
        };
        size_t before = 0;
        for (size_t at = 0; at < text.size();) {
            if (!in_word(text[at])) {
                at++;
                continue;
            }
            size_t end = at;
            while (end < text.size() && in_word(text[end])) end++;
            const std::string_view gap = text.substr(before, at - before);
            std::string_view word = text.substr(at, end - at);
            before = at = end;
            const bool near = gap == "," || gap == ", " || gap == "-" || gap == " " || gap == ",\n" || gap == ",\\\n  ";
            if (!near || word.size() > 4) {
                end_of(as_hex);
                end_of(as_decimals);
            }
            int number = 0;
            bool decimal = word.size() <= 3;
            for (const char sign : word) {
                decimal = decimal && sign >= '0' && sign <= '9';
                number = decimal ? number * 10 + (sign - '0') : 0;
            }
            if (decimal && number < 256)
                as_decimals.push_back(static_cast<char>(number));
            else
                end_of(as_decimals);
            if (word.size() == 4 && word[0] == '0' && (word[1] | 0x20) == 'x') word.remove_prefix(2);
            if (word.size() == 2 && digit(word[0]) && digit(word[1]))
                as_hex.push_back(static_cast<char>(value(SIXTEEN, word[0]) << 4 | value(SIXTEEN, word[1])));
            else
                end_of(as_hex);
        }
        end_of(as_hex);
        end_of(as_decimals);
    }

    static bool in_word(char sign) {
        return (sign >= '0' && sign <= '9') || ((sign | 0x20) >= 'a' && (sign | 0x20) <= 'z') || sign == '_';
    }

    // The bytes of one line of a dump, if it is one: words of one length in hex or octal, a blank or two between them,
    // behind whatever; one is enough where the line before was of the same dump.
    static bool dumped(std::string_view line, size_t &group, std::string &out) {
        constexpr size_t LINE = 16, HALF = 8, LONGEST_WORD = 8;
        size_t first = 0, many = 0, length = 0, before = 0;
        std::string row;
        const auto is_enough = [&] {
            return first > 0 && many >= (group == length && group ? 1U : length == 2 ? 5U : 3U);
        };
        for (size_t at = 0;; ) {
            while (at < line.size() && !digit(line[at])) at++;
            size_t end = at;
            while (end < line.size() && digit(line[end])) end++;
            const size_t size = end - at, gap = at - before;
            const bool whole = size > 0 && size <= LONGEST_WORD && (size == 3 || size % 2 == 0) &&
                               (end == line.size() || !in_word(line[end])) && (at == 0 || !in_word(line[at - 1]));
            const bool near = many > 0 && line.substr(before, gap).find_first_not_of(' ') == std::string_view::npos &&
                              (gap == 1 || (gap == 2 && row.size() % HALF == 0 && row.size() < LINE));
            if (!(whole && near && (size == length || (size < length && is_enough())))) {
                if (is_enough()) break;
                many = 0;
                row.clear();
                length = size;
                first = at;
            }
            if (size == 0) break;
            if (whole) {
                many++;
                for (size_t place = at; size != 3 && place < end; place += 2)
                    row.push_back(static_cast<char>(value(SIXTEEN, line[place]) << 4 | value(SIXTEEN, line[place + 1])));
                if (size == 3)
                    row.push_back(static_cast<char>((line[at] - '0') << 6 | (line[at + 1] - '0') << 3 | (line[at + 2] - '0')));
            }
            before = at = end;
        }
        if (!is_enough()) return false;
        group = length;
        out += row;
        return true;
    }

    static int value(const Table &table, char sign) { return table[static_cast<uint8_t>(sign)]; }
    static bool parts(char sign) { return sign == ' ' || sign == ':'; }
    // Whether two digits and what parts them stand around this place.
    static bool in_pairs(std::string_view text, size_t at) {
        size_t digits = 0, borders = 0;
        for (size_t place = at; place < at + 3; place++) {
            digits += digit(text[place]);
            borders += parts(text[place]);
        }
        return digits == 2 && borders == 1;
    }
    static bool digit(char sign) { return value(SIXTEEN, sign) >= 0; }

    // Keep what can be read: three quarters of it, at least six bytes. NULs count, for text of two bytes to a letter. What
    // is long is kept in any case: names may stand in it, as in a certificate.
    static void take(const std::string &made, std::string &out) {
        constexpr size_t LONG = 48;
        if (made.size() >= LONG) {
            out.append(made).push_back('\n');
            return;
        }
        size_t odd = 0;
        for (const char sign : made)
            odd += !((sign >= 32 && sign < 127) || sign == '\t' || sign == '\r' || sign == '\n' || sign == 0);
        if (made.size() >= 6 && odd * 4 <= made.size()) out.append(made).push_back('\n');
    }

    template <typename Decode>
    static std::string runs(std::string_view text, size_t shortest, const SignSet &set, const Joins *joins, Decode decode) {
        std::string out, made;
        for_each_run(text, set, shortest, joins, [&](size_t start, size_t end) {
            made.clear();
            decode(text.substr(start, end - start), made);
            take(made, out);
            return end;
        });
        return out;
    }
};

inline constexpr Decoder::Table Decoder::SIXTYFOUR = Decoder::sixtyfour();
inline constexpr Decoder::Table Decoder::SIXTEEN = Decoder::sixteen();

}  // namespace redact
