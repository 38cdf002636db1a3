// Bytes that nobody wrote: runs, borders and lengths that readers are wrong about, by a seed.
#pragma once

#include <cstdint>
#include <random>
#include <string>
#include <string_view>
#include <vector>

class Hostile {
  public:
    explicit Hostile(uint32_t seed) : chance_(seed) {}

    size_t upto(size_t most) { return std::uniform_int_distribution<size_t>(0, most)(chance_); }

    // About so many bytes: words that mean something to our readers, in a strange order, cut anywhere.
    std::string text(size_t most) {
        static const std::vector<std::string_view> WORDS{
            "\n", "\r\n", "\r", " ", "\t", "=", "=\n", "\\\n", "password = ", "host: ", "[ip:aaaaaaaaaa]", "[", "]", "0x", "%41", "\\u0041",
            "&#65;", "QUJDREVGR0hJSktMTU5PUFFSU1RVVldY", "4142434445464748494a4b4c", "41 42 43 44 45 46 47 48", "65, 66, 67, 68, 69, 70, 71, 72",
            "2026-11-20T07:40:00Z ", "1795160400", "<13>", "INSERT INTO t (a) VALUES", "copy t (a) from stdin", "----", "====", "\"", "'", "{", "}",
            "Ines Q. Harrowgate", "br07-kiosk2", "\xef\xbf\xbd", "\xc3\xa9", "\xe2\x80\x8b", "\xff\xfe", "00000000: 4142 4344  AB", "*", "|", ",",
        };
        std::string made;
        const size_t size = upto(most);
        while (made.size() < size) {
            switch (upto(5)) {
                case 0: made.push_back(static_cast<char>(upto(255))); break;
                case 1: made.append(upto(70), static_cast<char>(upto(255))); break;
                case 2: made.append(upto(9), '\0'); break;
                default: made += WORDS[upto(WORDS.size() - 1)];
            }
        }
        made.resize(size);
        return made;
    }

  private:
    std::mt19937 chance_;
};

// How many tries there are of each property: `make fuzz` asks for more.
inline size_t tries() {
    const char *wanted = std::getenv("SEALPACKET_TRIES");
    return wanted ? std::strtoul(wanted, nullptr, 10) : 200;
}
