// What is looked for: detectors, which many share, and the terms and decisions of one catalogue. Filled once, read-only
// afterwards.
#pragma once

#include <pybind11/pybind11.h>
#include <pybind11/stl.h>

#include <algorithm>
#include <memory>
#include <string>
#include <unordered_map>
#include <unordered_set>
#include <vector>

#include "detectors.hpp"
#include "terms.hpp"

namespace redact {

struct Known {
    int kind;
    std::string canonical;
    bool paired;  // also with its two names the other way round and with something else between them
};

struct HashOfText {
    using is_transparent = void;
    size_t operator()(std::string_view text) const { return std::hash<std::string_view>{}(text); }
};
template <typename Value>
using TextMap = std::unordered_map<std::string, Value, HashOfText, std::equal_to<>>;

class Scanner {
  public:
    // `everywhere`: every detector is tried on every line.
    Scanner(std::shared_ptr<Detectors> by, bool everywhere) : by(std::move(by)), everywhere(everywhere) {}

    // `paired`: two names with a blank between them, which stand for all that may be between them, either way.
    void add_term(std::string_view text, bool anywhere, bool paired) {
        const size_t blank = paired ? text.find(' ') : std::string_view::npos;
        if (blank == std::string_view::npos || anywhere) terms.add(text, anywhere);
        if (blank != std::string_view::npos) terms.add_pair(text.substr(0, blank), text.substr(blank + 1));
    }
    void add_known(const std::string &folded, int kind, const std::string &canonical, bool paired) {
        if (known_.insert_or_assign(folded, Known{kind, canonical, paired}).second) marks_.add(HashOfText{}(folded));
        if (!paired) return;
        const std::string_view names = folded;
        const size_t blank = names.find(' ');
        for (const std::string_view one : {names.substr(0, blank), names.substr(blank + 1)})
            if (names_known_.insert(HashOfText{}(one)).second) names_.add(HashOfText{}(one));
        longest_pair_ = std::max(longest_pair_, folded.size());
        pairs_have_digits_ = pairs_have_digits_ || has_digit(names);
    }
    const Known *find_known(std::string_view folded) const {
        const Known *known = known_whole(folded);
        return known ? known : known_pair(folded);
    }
    // What is alike but for its digits is of one family.
    void add_family(std::string_view folded) { families_.insert(family_of(folded)); }
    bool has_family(std::string_view folded) const { return families_.contains(family_of(folded)); }
    // Terms that are written as they are folded, all at once: (text, kind, canonical, anywhere, paired, of a family).
    void add_terms(const py::iterable &rows) {
        for (const py::handle one : rows) {
            const auto row = py::reinterpret_borrow<py::tuple>(one);
            const auto text = row[0].cast<std::string_view>();
            const bool paired = row[4].cast<bool>();
            add_term(text, row[3].cast<bool>(), paired);
            add_known(std::string(text), row[1].cast<int>(), row[2].cast<std::string>(), paired);
            if (row[5].cast<bool>()) add_family(text);
        }
    }
    void add_keep(const std::string &folded, const std::string &reason) { keep[folded] = reason; }
    // Kinds that nothing keeps.
    void add_floor(int kind) { floor.insert(kind); }
    void add_keep_kind(int kind, const std::string &reason) { keep_kinds[kind] = reason; }

    // The lines on which there are anchors, in order.
    void lines(std::string_view text, std::vector<Anchors::Line> &out) const {
        if (!everywhere) return by->lines(text, out);
        for (size_t start = 0, end; start < text.size(); start = end + 1) {
            end = std::min(text.find('\n', start), text.size());
            out.push_back({start, end, by->every(), end});
        }
    }

    const std::shared_ptr<Detectors> by;
    const bool everywhere;
    TermFinder terms;
    TextMap<std::string> keep;
    std::unordered_map<int, std::string> keep_kinds;
    std::unordered_set<int> floor;

  private:
    const Known *known_whole(std::string_view folded) const {
        if (!marks_.has(HashOfText{}(folded))) return nullptr;
        auto found = known_.find(folded);
        return found == known_.end() ? nullptr : &found->second;
    }

    static bool has_digit(std::string_view text) {
        return std::any_of(text.begin(), text.end(), [](char sign) { return sign >= '0' && sign <= '9'; });
    }

    // Two names with one of the borders between them.
    const Known *known_pair(std::string_view folded) const {
        if (!longest_pair_ || folded.size() > longest_pair_ + WIDEST_BORDER) return nullptr;
        if (!pairs_have_digits_ && has_digit(folded)) return nullptr;
        for (size_t at = 1; at + 1 < folded.size(); at++) {
            const size_t border = border_at(folded, at);
            if (!border || !names_.has(HashOfText{}(folded.substr(0, at)))) continue;
            const std::string first(folded.substr(0, at)), second(folded.substr(at + border));
            for (const std::string &both : {first + " " + second, second + " " + first})
                if (const Known *known = known_whole(both); known && known->paired) return known;
        }
        return nullptr;
    }

    static std::string family_of(std::string_view folded) {
        std::string family(folded);
        for (char &sign : family)
            if (sign >= '0' && sign <= '9') sign = '0';
        return family;
    }

    TextMap<Known> known_;
    std::unordered_set<std::string> families_;
    std::unordered_set<uint64_t> names_known_;  // of pairs, by their hash
    size_t longest_pair_ = 0;
    bool pairs_have_digits_ = false;
    Marks marks_, names_;
};

}  // namespace redact
