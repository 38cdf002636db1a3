// Lines by how they begin and end: where a value may have been broken because a text was wrapped at one width, and where
// a table may have its rule.
#pragma once

#include <cstring>
#include <string_view>
#include <vector>

#include "terms.hpp"

namespace redact {

inline bool inside_value(char sign) { return in_run(sign) || (sign && std::strchr("@._%+/:-", sign)); }

// The ends of lines at which a value may have been broken: of full lines in a text that was wrapped at one width, and
// of lines that say that they go on (a backslash, the soft break of RFC 2045).
inline std::vector<size_t> wrapped_ends(std::string_view text) {
    std::vector<size_t> ends, found;
    size_t width = 0, full = 0, begin = 0;
    bool soft = false;
    while (begin < text.size()) {
        const void *at = std::memchr(text.data() + begin, '\n', text.size() - begin);
        const size_t end = at ? static_cast<const char *>(at) - text.data() : text.size();
        const size_t length = end - begin;
        if (length > width) {
            width = length;
            full = 0;
        }
        full += length == width;
        if (!at) break;
        ends.push_back(end);
        if (length) {
            const char last = text[end - 1] == '\r' && length > 1 ? text[end - 2] : text[end - 1];
            soft = soft || last == '=' || last == '\\';
        }
        begin = end + 1;
    }
    const bool wrapped = width >= 40 && width <= 1000 && full >= std::max<size_t>(3, (ends.size() + 1) / 4);
    if (!soft && !wrapped) return found;
    begin = 0;
    for (const size_t end : ends) {
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

// Where lines begin that may be the rule under a table's heads: two dashes or more behind nothing but blanks and bars.
inline std::vector<size_t> rules_in(std::string_view text) {
    std::vector<size_t> found;
    for (size_t begin = 0; begin + 1 < text.size();) {
        size_t at = begin;
        while (at + 1 < text.size() && text[at] && std::strchr(" \t|+:", text[at])) at++;
        if ((text[at] == '-' || text[at] == '=') && at + 1 < text.size() && text[at + 1] == text[at]) found.push_back(begin);
        const void *end = std::memchr(text.data() + at, '\n', text.size() - at);
        if (!end) break;
        begin = static_cast<const char *>(end) - text.data() + 1;
    }
    return found;
}

// Where lines begin that may be the heads of columns without a rule: words only, with room between three of them.
inline std::vector<size_t> heads_in(std::string_view text) {
    constexpr size_t LONGEST = 400;
    std::vector<size_t> found;
    for (size_t begin = 0; begin + 1 < text.size();) {
        size_t at = begin, gaps = 0, blanks = 0, words = 0;
        for (; at < text.size() && at - begin < LONGEST; at++) {
            const char sign = text[at];
            if (sign == ' ' || sign == '\t') {
                blanks += sign == ' ' ? 1 : 2;
            } else if ((sign >= 'A' && sign <= 'Z') || (sign >= 'a' && sign <= 'z') || sign == '_' || sign == '-' ||
                       sign == '/' || sign == '.' || sign == '#' || sign == '%' || sign == '(' || sign == ')') {
                gaps += blanks > 1 && words > 0;
                blanks = 0;
                words++;
            } else {
                break;
            }
        }
        if (at < text.size() && text[at] == '\r') at++;
        if (gaps > 1 && at < text.size() && text[at] == '\n') found.push_back(begin);
        const void *end = at < text.size() ? std::memchr(text.data() + at, '\n', text.size() - at) : nullptr;
        if (!end) break;
        begin = static_cast<const char *>(end) - text.data() + 1;
    }
    return found;
}

// Lines of a label, room, and one value: where the label begins and ends, and the value.
struct Labelled {
    size_t label, label_end, value, end;
};
inline std::vector<Labelled> labelled_in(std::string_view text) {
    constexpr size_t LONGEST_LABEL = 40, LONGEST_VALUE = 80;
    const auto is_blank = [](char sign) { return sign == ' ' || sign == '\t'; };
    const auto in_label = [](char sign) {
        return (sign >= 'A' && sign <= 'Z') || (sign >= 'a' && sign <= 'z') || sign == '_' || sign == '-' || sign == '/' || sign == '.';
    };
    std::vector<Labelled> found;
    for (size_t begin = 0; begin < text.size();) {
        size_t at = begin;
        while (at < text.size() && is_blank(text[at])) at++;
        const size_t label = at;
        while (at < text.size() && at - label < LONGEST_LABEL &&
               (in_label(text[at]) || (at > label && text[at] == ' ' && at + 1 < text.size() && in_label(text[at + 1]))))
            at++;
        const size_t label_end = at;
        while (at < text.size() && is_blank(text[at])) at++;
        const void *line = at < text.size() ? std::memchr(text.data() + at, '\n', text.size() - at) : nullptr;
        const size_t end = line ? static_cast<const char *>(line) - text.data() : text.size();
        const bool has_room = at > label_end + 1 || (at > label_end && text[label_end] == '\t');
        if (label_end > label + 1 && has_room && at < end && end - at <= LONGEST_VALUE && text[at] != ':' && text[at] != '=' &&
            text.substr(at, end - at).find("  ") == std::string_view::npos)
            found.push_back({label, label_end, at, end});
        begin = end + 1;
    }
    return found;
}

// Whether any line begins a statement that puts rows into a table.
inline bool puts_rows(std::string_view text) {
    const auto begins = [&](size_t at, std::string_view word) {
        if (at + word.size() > text.size()) return false;
        for (size_t place = 0; place < word.size(); place++)
            if ((text[at + place] | 0x20) != word[place]) return false;
        return true;
    };
    for (size_t at = 0; at < text.size();) {
        while (at < text.size() && (text[at] == ' ' || text[at] == '\t')) at++;
        if (begins(at, "insert") || begins(at, "replace") || begins(at, "copy")) return true;
        const void *end = at < text.size() ? std::memchr(text.data() + at, '\n', text.size() - at) : nullptr;
        if (!end) break;
        at = static_cast<const char *>(end) - text.data() + 1;
    }
    return false;
}

}  // namespace redact
