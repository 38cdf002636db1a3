// RE2 over bytes.
#pragma once

#include <pybind11/pybind11.h>
#include <re2/re2.h>

#include <memory>
#include <string>
#include <string_view>

namespace redact {

inline re2::StringPiece piece(std::string_view text) { return {text.data(), text.size()}; }

inline RE2::Options options(int64_t memory) {
    RE2::Options made;
    made.set_encoding(RE2::Options::EncodingLatin1);
    made.set_max_mem(memory);
    made.set_log_errors(false);
    return made;
}

inline std::unique_ptr<RE2> compiled(const std::string &pattern, int64_t memory) {
    auto made = std::make_unique<RE2>(pattern, options(memory));
    if (!made->ok()) throw pybind11::value_error("pattern: " + made->error());
    return made;
}

}  // namespace redact
