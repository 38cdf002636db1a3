// Anchors in one automaton, or shared out to several.
#pragma once

#include <algorithm>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "anchors.hpp"

namespace redact {

// All anchors are in one automaton until a text asks for more states than it may have. States of anchors that wait for
// something multiply with one another: from then on the anchors are shared out to several automata, which need far fewer
// states together. A text is gone through once by each; one of programs takes less than half of the time all the same.
class SharedAnchors {
  public:
    using Line = Anchors::Line;

    // See Anchors::add.
    void add(std::string_view pattern, const Bits &bits, bool loosely = false) {
        whole_->add(pattern, bits, loosely);
        all_.push_back({std::string(pattern), bits, loosely});
    }

    void finish() { whole_->finish(); }

    // The lines on which there are anchors, in order.
    void lines(std::string_view text, std::vector<Line> &out) {
        size_t at = 0;
        while (whole_ && at < text.size()) {
            size_t end = std::min(at + PIECE, text.size());
            end = std::min(text.find('\n', end - 1), text.size() - 1) + 1;
            const size_t before = out.size();
            whole_->lines(text.substr(at, end - at), out);
            for (size_t number = before; number < out.size(); number++) out[number] = moved(out[number], at);
            at = end;
            if (whole_->times_full() > 0) share_out();
        }
        if (!whole_) lines_of_shares(text.substr(at), at, out);
    }

    // How many automata there are.
    size_t shares() const { return whole_ ? 1 : shares_.size(); }
    // How many states the texts so far have asked for.
    size_t states() const {
        size_t many = whole_ ? whole_->states() : 0;
        for (const Anchors &share : shares_) many += share.states();
        return many;
    }

  private:
    static constexpr size_t SHARES = 6, STATES_OF_ONE = 1 << 15, PIECE = 512 << 10;

    struct Anchor {
        std::string pattern;
        Bits bits;
        bool loosely;
    };

    // A line of a text that begins at this place of another.
    static Line moved(Line line, size_t at) {
        line.start += at;
        line.end += at;
        line.last += at;
        return line;
    }

    // What all shares find in a text that begins at this place.
    void lines_of_shares(std::string_view text, size_t at, std::vector<Line> &out) {
        found_.clear();
        for (Anchors &share : shares_) share.lines(text, found_);
        std::sort(found_.begin(), found_.end(), [](const Line &one, const Line &other) { return one.start < other.start; });
        const size_t before = out.size();
        for (const Line &line : found_) {
            if (out.size() > before && out.back().start == line.start + at)
                out.back().add(line.bits, line.last + at);
            else
                out.push_back(moved(line, at));
        }
    }

    void share_out() {
        whole_.reset();
        shares_.reserve(SHARES);
        while (shares_.size() < SHARES) shares_.emplace_back(STATES_OF_ONE);
        for (size_t number = 0; number < all_.size(); number++) {
            const Anchor &one = all_[number];
            shares_[number % SHARES].add(one.pattern, one.bits, one.loosely);
        }
        for (Anchors &share : shares_) share.finish();
    }

    std::unique_ptr<Anchors> whole_ = std::make_unique<Anchors>();
    std::vector<Anchors> shares_;
    std::vector<Anchor> all_;
    std::vector<Line> found_;  // its memory is used again
};

}  // namespace redact
