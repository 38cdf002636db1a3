// Names of more than two parts, without small words between them.
#pragma once

#include <string_view>

namespace redact {

// Whether three words that may be names, or initials, stand side by side with a blank between them each, or a comma and
// a blank.
inline bool has_three_names(std::string_view text) {
    const auto is_capital = [](unsigned char sign) { return (sign >= 'A' && sign <= 'Z') || (sign >= 0xc3 && sign <= 0xdf); };
    const auto goes_on = [](unsigned char sign) {
        return (sign >= 'a' && sign <= 'z') || (sign >= 'A' && sign <= 'Z') || sign >= 0x80 || sign == '\'' || sign == '-';
    };
    size_t names = 0, end = 0;  // how many there are so far, and where the last of them ends
    for (size_t at = 0; at < text.size(); at++) {
        if (!is_capital(text[at]) || (at > 0 && goes_on(text[at - 1]))) continue;
        const bool is_next = names > 0 && ((at == end + 1 && (text[end] == ' ' || text[end] == '+')) ||
                                           (at == end + 2 && text[end] == ',' && text[end + 1] == ' '));
        names = is_next ? names + 1 : 1;
        if (names == 3) return true;
        for (end = at + 1; end < text.size() && goes_on(text[end]); end++) {
        }
        end += end == at + 1 && end < text.size() && text[end] == '.';
        at = end - 1;
    }
    return false;
}

}  // namespace redact
