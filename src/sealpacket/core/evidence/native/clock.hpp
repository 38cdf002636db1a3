// The times of lines, read quickly where Python has read one like it before.
#pragma once

#include <array>
#include <cstdint>
#include <cstring>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_set>
#include <vector>

namespace evidence {

constexpr int64_t SECOND = 1'000'000;

inline bool is_digit(char byte) { return byte >= '0' && byte <= '9'; }
inline bool is_letter(char byte) { return (byte >= 'a' && byte <= 'z') || (byte >= 'A' && byte <= 'Z'); }
inline bool is_alnum(char byte) { return is_digit(byte) || is_letter(byte) || static_cast<unsigned char>(byte) >= 0x80; }

// Where a line's time is, in bytes, and the moment in microseconds since 1970.
struct Time {
    int64_t moment;
    size_t start, end;
};

// A time that was read, up to its seconds: lines of the same minute are read from there. Behind the seconds comes `after`:
// the rest of the time, or if it `ends` there the next byte. For numbers that count seconds (`digits` of them), `lead` is
// the digits that do not change within a day.
struct Minute {
    std::string lead, after;
    bool ends;
    int64_t base;
    int digits;
    // Of all of its day: between `lead` and the seconds there are hours and minutes, with this behind each (0: nothing).
    bool is_day;
    char separator;
};

class Clock {
  public:
    explicit Clock(const std::vector<std::string> &zones) : zones_(zones.begin(), zones.end()) {}

    // The time of a line like one that was learned; nothing if Python has to look.
    std::optional<Time> read(std::string_view line, size_t reach) {
        const std::string_view head = line.substr(0, reach);
        for (size_t number = 0; number < minutes_.size(); number++) {
            const Minute &minute = minutes_[number];
            const size_t at = head.find(minute.lead);
            if (at == head.npos || !is_known_place(head.substr(0, at))) continue;
            const std::optional<Time> time =
                minute.digits ? counted(line, at, minute) : of_minute(line, at, minute);
            if (time) {
                if (number) std::swap(minutes_[number], minutes_[number - 1]);
                return time;
            }
        }
        return std::nullopt;
    }

    // Another file begins, which may have other years.
    void forget() { minutes_.clear(); }

    // Keep what Python read in a line, for the lines after it.
    void learn(std::string_view line, size_t start, Minute minute) {
        if (places_.size() < MOST_PLACES) places_.insert(place_of(line.substr(0, start)));
        if (minutes_.size() >= RECENT) minutes_.pop_back();
        minutes_.insert(minutes_.begin(), std::move(minute));
    }

  private:
    static constexpr size_t RECENT = 6, MOST_PLACES = 4096;

    std::optional<Time> of_minute(std::string_view line, size_t at, const Minute &minute) const {
        size_t pos = at + minute.lead.size();
        int64_t base = minute.base;
        if (minute.is_day) {
            const int hours = two_digits(line, pos, minute.separator), minutes = two_digits(line, pos, minute.separator);
            if (hours < 0 || hours > 23 || minutes < 0 || minutes > 59) return std::nullopt;
            base += (hours * 60 + minutes) * 60 * SECOND;
        }
        if (pos + 2 > line.size() || line[pos] < '0' || line[pos] > '5' || !is_digit(line[pos + 1])) return std::nullopt;
        int64_t micro = ((line[pos] - '0') * 10 + (line[pos + 1] - '0')) * SECOND;
        pos += 2;
        micro += fraction(line, pos);
        if (!line.substr(pos).starts_with(minute.after)) return std::nullopt;
        if (minute.ends && (minute.after.empty() ? pos != line.size() : goes_on(line.substr(pos)))) return std::nullopt;
        return Time{base + micro, at, minute.ends ? pos : pos + minute.after.size()};
    }

    // A number of two digits and what follows it; moves `pos` behind it. -1 for none.
    static int two_digits(std::string_view line, size_t &pos, char separator) {
        const size_t size = separator ? 3 : 2;
        if (pos + size > line.size() || !is_digit(line[pos]) || !is_digit(line[pos + 1])) return -1;
        if (separator && line[pos + 2] != separator) return -1;
        pos += size;
        return (line[pos - size] - '0') * 10 + (line[pos - size + 1] - '0');
    }

    static std::optional<Time> counted(std::string_view line, size_t at, const Minute &minute) {
        if (at && (is_alnum(line[at - 1]) || line[at - 1] == '.' || line[at - 1] == '/')) return std::nullopt;
        size_t pos = at;
        int64_t value = 0;
        while (pos < line.size() && is_digit(line[pos]) && pos - at < 19) value = value * 10 + (line[pos++] - '0');
        if (pos - at != static_cast<size_t>(minute.digits)) return std::nullopt;
        int digits = minute.digits - 10;
        for (; digits < 6; digits++) value *= 10;
        for (; digits > 6; digits--) value /= 10;
        if (minute.digits == 10) value += fraction(line, pos);
        if (pos < line.size() && (is_alnum(line[pos]) || line[pos] == '/' || line[pos] == '-')) return std::nullopt;
        return Time{value, at, pos};
    }

    // A fraction of a second at `pos`, in microseconds; moves `pos` behind it.
    static int64_t fraction(std::string_view line, size_t &pos) {
        if (pos + 1 >= line.size() || (line[pos] != '.' && line[pos] != ',' && line[pos] != ':') || !is_digit(line[pos + 1])) return 0;
        size_t end = pos + 1;
        int64_t micro = 0, unit = SECOND / 10;
        for (; end < line.size() && is_digit(line[end]); end++, unit /= 10) micro += (line[end] - '0') * unit;
        const bool number_goes_on = end + 1 < line.size() && line[end] == '.' && is_digit(line[end + 1]);
        if (end - pos > 10 || number_goes_on) return 0;
        pos = end;
        return micro;
    }

    // Whether what follows the seconds may still belong to the time: an offset, a zone, half of the day or a year.
    bool goes_on(std::string_view rest) const {
        size_t pos = 0;
        if (pos < rest.size() && rest[pos] == ' ') pos++;
        if (pos < rest.size() && rest[pos] == '(') pos++;
        if (pos + 1 >= rest.size()) return false;
        if ((rest[pos] == '+' || rest[pos] == '-') && is_digit(rest[pos + 1])) return true;
        if (pos && (rest.substr(pos, 2) == "19" || rest.substr(pos, 2) == "20")) return true;
        size_t end = pos;
        while (end < rest.size() && is_letter(rest[end]) && end - pos < 6) end++;
        const std::string word(rest.substr(pos, end - pos));
        if (word.size() <= 2 && !word.empty() && strchr("aApP", word[0])) return true;
        return word == "z" || word.starts_with("UTC") || word.starts_with("GMT") || zones_.contains(word);
    }

    bool is_known_place(std::string_view before) {
        if (before.empty()) return starts_ || (starts_ = places_.contains(""));
        return places_.contains(place_of(before));
    }

    // What is the same before the times of lines of one kind: numbers and words are as good as any, but the key that the
    // time follows is not.
    std::string place_of(std::string_view before) const {
        std::string place;
        size_t key = before.size(), letters = before.size();
        for (size_t pos = before.size(); pos > 0 && before.size() - pos < 12; pos--) {
            const char byte = before[pos - 1];
            if (is_letter(byte) || byte == '_') { letters = pos; break; }
            if (!is_digit(byte) && !strchr(" =:\"'(<>", byte)) break;
        }
        if (letters < before.size()) {
            key = letters;
            while (key > 0 && (is_alnum(before[key - 1]) || strchr("@._$-", before[key - 1]))) key--;
        }
        bool in_word = false;
        for (const char byte : before.substr(0, key)) {
            if (!is_alnum(byte)) place += byte;
            else if (!in_word) place += 'a';
            in_word = is_alnum(byte);
        }
        return place.append(before.substr(key));
    }

    std::unordered_set<std::string> zones_, places_;
    std::vector<Minute> minutes_;
    bool starts_ = false;
};

}  // namespace evidence
