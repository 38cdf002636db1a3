// Whether what stands beside a telling name can be a secret: asked of every value that a log tells of, so it is native.
#pragma once

#include <re2/re2.h>

#include <memory>
#include <string>
#include <string_view>

#include "ordinary.hpp"
#include "patterns.hpp"

namespace redact {

class Secrets {
  public:
    // `none`: words that are said of secrets; `folder`: what a variable with a telling name may hold instead of one.
    // The words are the caller's, who keeps them.
    Secrets(const std::string &none, const std::string &folder, const Ordinary &words)
        : none_(compiled(none, MEMORY)), folder_(compiled(folder, MEMORY)), words_(&words) {}

    bool accepts(std::string_view value) const {
        if (!has_two_signs(value) || RE2::FullMatch(piece(value), *none_) || words_->are_of_a_program(value)) return false;
        const bool may_be_folder = value[0] == '/' || value[0] == '~' || value[0] == ' ';
        return !may_be_folder || !RE2::FullMatch(piece(stripped(value)), *folder_);
    }

  private:
    static constexpr int64_t MEMORY = 1 << 20;
    static constexpr std::string_view LOST = "\xef\xbf\xbd";  // stands for a letter that could not be read
    static constexpr std::string_view BLANKS = " \t\n\r\v\f";

    static bool has_two_signs(std::string_view value) {
        size_t signs = value.size();
        for (size_t at = value.find(LOST); at != std::string_view::npos; at = value.find(LOST, at + LOST.size()))
            signs -= LOST.size();
        return signs >= 2;
    }
    static std::string_view stripped(std::string_view value) {
        value.remove_prefix(std::min(value.find_first_not_of(BLANKS), value.size()));
        return value.substr(0, value.find_last_not_of(BLANKS) + 1);
    }

    std::unique_ptr<RE2> none_, folder_;
    const Ordinary *words_;
};

}  // namespace redact
