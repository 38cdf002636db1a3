// A message without what changes from one occurrence to the next.
#pragma once

#include <algorithm>
#include <array>
#include <string>
#include <string_view>

#include "clock.hpp"

namespace evidence {

constexpr char GLUE = '\x1f';
// Between tokens that touch; others are separated by a space.
constexpr size_t MOST_TOKENS = 48;

class Skeleton {
  public:
    Skeleton() {
        for (const char byte : {' ', '\t', '\r', '\v', '\f', '\0', GLUE}) kind(byte) = SPACE;
        for (const char byte : std::string_view("=,()[]{}<>\"';|")) kind(byte) = MARK;
        for (char byte = '0'; byte <= '9'; byte++) kind(byte) = DIGIT;
        for (char byte = 'a'; byte <= 'z'; byte++) kind(byte) = LETTER | SMALL, kind(static_cast<char>(byte - 32)) = LETTER;
        kind('/') = kind('\\') = SLASH;
        kind('@') = AT;
        kind(':') = COLON;
        kind('.') = kind('!') = kind('?') = STOP;
    }

    // The skeleton of what stands before and behind a line's time; valid until the next call. A word with digits, a path, an address, a value behind `=`
    // and what is in quotes become `*`; the first digit of a web request's status stays.
    std::string_view of(std::string_view before, std::string_view message, bool is_object) {
        text_.clear();
        tokens_ = 0;
        last_is_variable_ = has_comma_ = false;
        if (!before.empty() && !message.empty() && before.back() == message.front() && strchr("\"'", before.back())) {
            before.remove_suffix(1);  // the quotes of the time
            message.remove_prefix(1);
        }
        add(before, is_object);
        add(message, is_object);
        return text_;
    }

  private:
    enum : uint8_t { MARK = 1, SPACE = 2, DIGIT = 4, LETTER = 8, SMALL = 16, SLASH = 32, AT = 64, COLON = 128, STOP = 128 + 64 };

    uint8_t &kind(char byte) { return kinds_[static_cast<unsigned char>(byte)]; }
    bool ends_word(std::string_view text, size_t pos) { return pos >= text.size() || kind(text[pos]) & (MARK | SPACE); }

    void add(std::string_view text, bool is_object) {
        bool is_value = false, after_request = false;
        touches_ = false;
        for (size_t pos = 0; pos < text.size() && tokens_ < MOST_TOKENS;) {
            const char byte = text[pos];
            const uint8_t here = kind(byte);
            if (here == SPACE) {
                touches_ = false;
                pos++;
                continue;
            }
            if (here == MARK) {
                if (byte == '"' && !is_object) {
                    const size_t end = text.find('"', pos + 1);
                    if (end != text.npos && !(after_request = is_request(text.substr(pos + 1, end - pos - 1)))) {
                        put("\"*\"", true);
                        pos = end + 1;
                        is_value = false;
                        continue;
                    }
                    if (end != text.npos) request_end_ = end;
                }
                put(text.substr(pos, 1), false);
                if (byte != '"' && byte != '\'') is_value = byte == '=';
                pos++;
                continue;
            }
            const size_t begin = pos;
            uint8_t seen = 0;
            for (; pos < text.size(); pos++) {
                const uint8_t one = kind(text[pos]);
                if (one & (MARK | SPACE)) break;
                if (one == COLON && ends_word(text, pos + 1)) break;
                seen |= one == COLON || one == STOP ? 0 : one;
            }
            if (pos == begin) {  // a colon
                put(text.substr(pos, 1), false);
                pos++;
                continue;
            }
            std::string_view word = text.substr(begin, pos - begin);
            std::string_view dots;
            while (word.size() > 1 && kind(word.back()) == STOP) {
                word.remove_suffix(1);
                dots = ".";
            }
            const bool has_digit = seen & DIGIT, has_letter = seen & LETTER, has_small = seen & SMALL, is_odd = seen & AT;
            const bool is_path = seen & SLASH && (kind(word[0]) == SLASH || std::count_if(word.begin(), word.end(), [this](char one) { return kind(one) == SLASH; }) > 1);
            if (after_request && begin > request_end_ && word.size() == 3 && has_digit && !has_letter) {
                const char status[] = {word[0], 'x', 'x'};
                put(std::string_view(status, 3), false);
                after_request = false;
            } else if (is_value || is_path || is_quoted(text, begin, pos) || is_odd || word.size() > 48 || (has_digit && !is_code(word, has_small))) {
                put("*", true);
            } else {
                put(word, false);
            }
            if (!dots.empty()) put(dots, false);
            is_value = false;
        }
    }

    // Add a token; a row of variable ones is one.
    void put(std::string_view token, bool is_variable) {
        if (is_variable && last_is_variable_) {
            touches_ = true;
            has_comma_ = false;
            return;
        }
        if (token == "," && last_is_variable_ && !has_comma_) {  // perhaps one of a list
            has_comma_ = true;
            return;
        }
        if (has_comma_) {
            has_comma_ = last_is_variable_ = false;
            const bool touched = touches_;
            touches_ = true;
            put(",", false);
            touches_ = touched;
        }
        if (!text_.empty()) text_ += touches_ ? GLUE : ' ';
        text_ += token;
        touches_ = true;
        last_is_variable_ = is_variable;
        tokens_++;
    }

    // Whether a word is all that is between two quotes.
    static bool is_quoted(std::string_view text, size_t begin, size_t end) {
        return begin > 0 && text[begin - 1] == '\'' && end < text.size() && text[end] == '\'';
    }

    // An error code such as E-3312: capitals, perhaps a dash, two to five digits.
    static bool is_code(std::string_view word, bool has_small) {
        if (has_small || word.size() > 11 || !is_letter(word[0])) return false;
        size_t pos = 0;
        while (pos < word.size() && is_letter(word[pos])) pos++;
        if (pos > 5) return false;
        if (pos < word.size() && (word[pos] == '-' || word[pos] == '_')) pos++;
        const size_t digits = word.size() - pos;
        if (digits < 2 || digits > 5) return false;
        for (; pos < word.size(); pos++)
            if (!is_digit(word[pos])) return false;
        return true;
    }

    static bool is_request(std::string_view quoted) {
        size_t pos = 0;
        while (pos < quoted.size() && quoted[pos] >= 'A' && quoted[pos] <= 'Z') pos++;
        return pos >= 3 && pos < 9 && pos + 1 < quoted.size() && quoted[pos] == ' ' && quoted.find(" HTTP/") != quoted.npos;
    }

    std::array<uint8_t, 256> kinds_{};
    std::string text_;
    size_t tokens_ = 0, request_end_ = 0;
    bool touches_ = false, last_is_variable_ = false, has_comma_ = false;
};

}  // namespace evidence
