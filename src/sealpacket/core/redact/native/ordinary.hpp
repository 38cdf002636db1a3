// Names that are put together of ordinary words, as in programs and configurations: Name.Variable, key_password, getItem.
#pragma once

#include <algorithm>
#include <string>
#include <string_view>
#include <unordered_set>
#include <vector>

#include "terms.hpp"

namespace redact {

class Ordinary {
  public:
    explicit Ordinary(const std::vector<std::string> &words) : words_(words.begin(), words.end()) {}

    // Whether it is nothing but such words (small or capital letters, or a capital at the beginning of each), with
    // what programs put between and around them. Beside them, any of one or two letters will do.
    bool has(std::string_view text) const {
        while (!text.empty() && is_blank(text.front())) text.remove_prefix(1);
        while (!text.empty() && is_blank(text.back())) text.remove_suffix(1);
        if (text.size() > LONGEST) return false;
        bool has_word = false;
        std::string word;
        for (size_t at = 0; at < text.size();) {
            if (!is_letter(text[at])) {
                if (std::string_view("._:,;!?()[]{}<>'\"*&=\\").find(text[at]) == std::string_view::npos) return false;
                at++;
                continue;
            }
            const size_t end = word_end(text, at);
            word.clear();
            for (; at < end; at++) word.push_back(lower(text[at]));
            if (word.size() > 2 && !words_.contains(word)) return false;
            has_word = has_word || word.size() > 2;
        }
        return has_word;
    }

    // Whether it is what a program calls or takes from somewhere, and no value: `config.get(`, `args[0`, `self.key`.
    bool are_of_a_program(std::string_view value) const {
        size_t mark = value.size();
        for (const char sign : {'(', '['}) {
            const size_t place = value.find(sign);
            if (place > 0) mark = std::min(mark, place);
        }
        if (mark < value.size()) return has(value.substr(0, mark));
        const bool is_member = value.starts_with("self.") || value.starts_with("cls.") || value.starts_with("this.");
        return is_member && has(value);
    }

  private:
    static constexpr size_t LONGEST = 80;
    static bool is_blank(char sign) { return sign == ' ' || sign == '\t'; }
    static bool is_small(char sign) { return sign >= 'a' && sign <= 'z'; }
    static bool is_capital(char sign) { return sign >= 'A' && sign <= 'Z'; }
    static bool is_letter(char sign) { return is_small(sign) || is_capital(sign); }

    // Where a word ends: at what is no letter, before a capital behind a small letter, and before the last of several
    // capitals that a small one follows (RSAKey).
    static size_t word_end(std::string_view text, size_t at) {
        for (size_t next = at + 1;; next++) {
            if (next >= text.size() || !is_letter(text[next])) return next;
            if (is_capital(text[next]) && is_small(text[next - 1])) return next;
            if (next + 1 < text.size() && is_capital(text[next]) && is_capital(text[next - 1]) && is_small(text[next + 1]))
                return next;
        }
    }

    std::unordered_set<std::string> words_;
};

}  // namespace redact
