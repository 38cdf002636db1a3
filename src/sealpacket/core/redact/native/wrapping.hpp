// Lines by their shape: where a value may have been broken because a text was wrapped at one width, where a table may
// have its heads or its rule, where a label may stand.
#pragma once

#include <algorithm>
#include <bit>
#include <cstdint>
#include <cstring>
#include <string_view>
#include <vector>

#include "terms.hpp"

namespace redact {

// Where the lines of a text end: looked for once, by all who ask about its lines.
class LineEnds {
  public:
    explicit LineEnds(std::string_view text) : text(text) {
        constexpr size_t USUAL = 64;
        all.reserve(text.size() / USUAL);
        size_t base = 0;
        for (; base + 64 <= text.size(); base += 64)
            for (uint64_t ends = any_of(text.data() + base, "\n\n\n\n"); ends; ends &= ends - 1)
                all.push_back(base + std::countr_zero(ends));
        for (; base < text.size(); base++)
            if (text[base] == '\n') all.push_back(base);
    }

    size_t before(size_t limit) const { return std::lower_bound(all.begin(), all.end(), limit) - all.begin(); }

    // Every line, the last one too if it has no end: where it begins and ends, and whether it has one.
    template <typename Take> void each(Take take) const {
        size_t begin = 0;
        for (const size_t end : all) {
            take(begin, end, true);
            begin = end + 1;
        }
        if (begin < text.size()) take(begin, text.size(), false);
    }

    std::string_view text;
    std::vector<size_t> all;
};

inline bool inside_value(char sign) { return in_run(sign) || (sign && std::strchr("@._%+/:-", sign)); }

// The ends of lines at which a value may have been broken: of full lines in a text that was wrapped at one width, and
// of lines that say that they go on (a backslash, the soft break of RFC 2045).
inline std::vector<size_t> wrapped_ends(const LineEnds &ends) {
    const std::string_view text = ends.text;
    std::vector<size_t> found;
    size_t width = 0, full = 0;
    bool soft = false;
    ends.each([&](size_t begin, size_t end, bool has_end) {
        const size_t length = end - begin;
        if (length > width) {
            width = length;
            full = 0;
        }
        full += length == width;
        if (!has_end || !length) return;
        const char last = text[end - 1] == '\r' && length > 1 ? text[end - 2] : text[end - 1];
        soft = soft || last == '=' || last == '\\';
    });
    const bool wrapped = width >= 40 && width <= 1000 && full >= std::max<size_t>(3, (ends.all.size() + 1) / 4);
    if (!soft && !wrapped) return found;
    size_t begin = 0;
    for (const size_t end : ends.all) {
        const size_t length = end - begin;
        const char last = length == 0 ? '\n' : text[end - 1] == '\r' && length > 1 ? text[end - 2] : text[end - 1];
        const bool goes_on = wrapped && length == width && inside_value(last) && end + 1 < text.size() &&
                             inside_value(text[end + 1]);
        // Lines that begin alike are records of one length, not one text.
        const bool alike = goes_on && text.substr(begin, 3) == text.substr(end + 1, 3);
        if ((goes_on && !alike) || last == '=' || last == '\\') found.push_back(end);
        begin = end + 1;
    }
    return found;
}

// What lines look like from outside.
struct Labelled {
    size_t label, label_end, value, end;
};
struct Shapes {
    std::vector<size_t> rules;       // where lines begin that may be the rule under a table's heads
    std::vector<size_t> heads;       // where lines begin that may be the heads of columns without a rule
    std::vector<Labelled> labelled;  // lines of a label, room, and one value
    bool puts_rows = false;          // whether any line begins a statement of SQL that puts rows into named columns
};

inline bool is_blank(char sign) { return sign == ' ' || sign == '\t'; }
inline bool is_letter(char sign) { return (sign >= 'A' && sign <= 'Z') || (sign >= 'a' && sign <= 'z'); }

// Two dashes or more behind nothing but blanks and bars.
inline bool may_be_rule(std::string_view line) {
    size_t at = 0;
    while (at < line.size() && (is_blank(line[at]) || line[at] == '|' || line[at] == '+' || line[at] == ':')) at++;
    return at + 1 < line.size() && (line[at] == '-' || line[at] == '=') && line[at + 1] == line[at];
}

// Words only, with room or a bar between three of them, or between two if there are few.
inline bool may_be_heads(std::string_view line) {
    constexpr size_t LONGEST = 400, SHORT = 48;
    if (line.ends_with('\r')) line.remove_suffix(1);
    if (line.size() >= LONGEST) return false;
    size_t gaps = 0, blanks = 0, words = 0;
    for (const char sign : line) {
        if (is_blank(sign)) {
            blanks += sign == ' ' ? 1 : 2;
        } else if (sign == '|') {
            blanks += 2;
        } else if (is_letter(sign) || (sign & 0x80) || (sign && std::strchr("_-/.#%()", sign))) {
            gaps += blanks > 1 && words > 0;
            blanks = 0;
            words++;
        } else {
            return false;
        }
    }
    return gaps > 1 || (gaps == 1 && line.size() <= SHORT);
}

// A label, room, which may end with a colon, and a value. `begin` is where the line begins in its text.
inline bool is_labelled(std::string_view line, size_t begin, Labelled &found) {
    constexpr size_t LONGEST_LABEL = 40, LONGEST_VALUE = 80;
    const auto in_label = [&](size_t at) {
        return at < line.size() && (is_letter(line[at]) || (line[at] & 0x80) || line[at] == '_' || line[at] == '-' || line[at] == '/' || line[at] == '.');
    };
    size_t at = 0;
    while (at < line.size() && is_blank(line[at])) at++;
    const size_t label = at;
    while (at - label < LONGEST_LABEL && (in_label(at) || (at > label && at < line.size() && line[at] == ' ' && in_label(at + 1)))) at++;
    const size_t label_end = at;
    if (label_end <= label + 1) return false;
    while (at < line.size() && is_blank(line[at])) at++;
    const bool has_room = at > label_end + 1 || (at > label_end && line[label_end] == '\t');
    if (has_room && at + 1 < line.size() && (line[at] == ':' || line[at] == '=') && is_blank(line[at + 1]))
        for (at++; at < line.size() && is_blank(line[at]); at++) {}
    if (!has_room || at >= line.size() || line.size() - at > LONGEST_VALUE || line[at] == ':' || line[at] == '=' || line[at] == '#' ||
        line.find("  ", at) != std::string_view::npos)
        return false;
    found = {begin + label, begin + label_end, begin + at, begin + line.size()};
    return true;
}

// `word` is in small letters.
inline bool holds_word(std::string_view line, std::string_view word) {
    return std::search(line.begin(), line.end(), word.begin(), word.end(),
                       [](char sign, char wanted) { return lower(sign) == wanted; }) != line.end();
}

inline bool begins_statement(std::string_view line) {
    while (!line.empty() && is_blank(line.front())) line.remove_prefix(1);
    if (line.empty() || !std::strchr("cir", lower(line.front()))) return false;
    if (line.ends_with('\r')) line.remove_suffix(1);
    size_t length = 0;
    while (length < line.size() && !is_blank(line[length])) length++;
    const std::string_view word = line.substr(0, length), rest = line.substr(length);
    if (length == 4 && holds_word(word, "copy"))
        return rest.find('(') != std::string_view::npos && (rest.ends_with(')') || holds_word(rest, "stdin"));
    if ((length == 6 && holds_word(word, "insert")) || (length == 7 && holds_word(word, "replace")))
        return rest.find_first_not_of(" \t") == std::string_view::npos || holds_word(rest, "into");
    return false;
}

inline Shapes shapes_of(const LineEnds &ends) {
    Shapes shapes;
    Labelled labelled{};
    ends.each([&](size_t begin, size_t end, bool has_end) {
        const std::string_view line = ends.text.substr(begin, end - begin);
        if (line.empty() || (line[0] >= '0' && line[0] <= '9')) return;  // none of them begins with a digit
        if (may_be_rule(line)) shapes.rules.push_back(begin);
        if (has_end && may_be_heads(line)) shapes.heads.push_back(begin);
        if (is_labelled(line, begin, labelled)) shapes.labelled.push_back(labelled);
        shapes.puts_rows = shapes.puts_rows || begins_statement(line);
    });
    return shapes;
}

}  // namespace redact
