// Labels such as [host:k3f7q2mxwa]: keyed BLAKE2b (RFC 7693) in the alphabet of base32 (RFC 4648).
#pragma once

#include <blake2.h>
#include <pybind11/pybind11.h>

#include <stdexcept>
#include <string>
#include <string_view>

namespace redact {

class Labels {
  public:
    static constexpr size_t DIGEST = 10, LENGTH = 10;

    explicit Labels(std::string_view key) {
        if (key.size() != 32) throw std::invalid_argument("a placeholder key has 32 bytes");
        blake2b_init_key(&begun_, DIGEST, key.data(), key.size());
        read_key();
    }

    std::string of(std::string_view kind, std::string_view canonical) const {
        std::string made;
        add(made, kind, canonical);
        return made;
    }

    void add(std::string &out, std::string_view kind, std::string_view canonical) const {
        blake2b_state state = begun_;
        blake2b_update(&state, reinterpret_cast<const uint8_t *>(kind.data()), kind.size());
        const uint8_t border = 0;
        blake2b_update(&state, &border, 1);
        blake2b_update(&state, reinterpret_cast<const uint8_t *>(canonical.data()), canonical.size());
        uint8_t digest[DIGEST];
        blake2b_final(&state, digest, DIGEST);
        uint64_t bits = 0;
        for (size_t place = 0; place < 7; place++) bits = bits << 8 | digest[place];
        bits >>= 6;
        out.append("[").append(kind).append(":");
        for (size_t place = 0; place < LENGTH; place++)
            out.push_back("abcdefghijklmnopqrstuvwxyz234567"[bits >> (45 - 5 * place) & 31]);
        out.push_back(']');
    }

    // Behind a text what is written for a value: the label, or where `shape(kind, canonical, value)` is given, what that
    // makes of it.
    void add_written(std::string &out, const std::string &kind, std::string_view canonical, std::string_view value) const {
        if (shape.is_none()) return add(out, kind, canonical);
        const pybind11::bytes made = shape(kind, pybind11::bytes(canonical.data(), canonical.size()), pybind11::bytes(value.data(), value.size()));
        out.append(std::string_view(made));
    }

    // Under what it stands in the legend: the label, before what is written if that is something else.
    std::string noted(std::string_view kind, std::string_view written) const {
        std::string made;
        if (!written_alone()) add(made, kind, written);
        return made.append(written);
    }
    // Whether that is what is written, and nothing before it.
    bool written_alone() const { return shape.is_none(); }

    pybind11::object shape = pybind11::none();

  private:
    // The key is the first block of everything that is hashed. It is read once: what comes behind it is taken back.
    void read_key() {
        blake2b_state read = begun_;
        const uint8_t more[BLAKE2B_BLOCKBYTES + 1] = {};
        blake2b_update(&read, more, sizeof more);
        if (read.t[0] != BLAKE2B_BLOCKBYTES) return;  // this library reads it later
        read.buflen = 0;
        begun_ = read;
    }

    blake2b_state begun_;
};

}  // namespace redact
