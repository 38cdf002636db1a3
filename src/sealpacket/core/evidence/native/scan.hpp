// One pass over a log: its times, its messages by their skeletons, its gaps and steps back.
#pragma once

#include <algorithm>
#include <functional>
#include <map>
#include <memory>
#include <unordered_map>

#include <re2/re2.h>
#include <re2/set.h>

#include "skeleton.hpp"

namespace evidence {

constexpr size_t LONGEST_LINE = 1 << 16, LONGEST_EXAMPLE = 400, MOST_MOMENTS = 500, MOST_STEPS = 40, MOST_SHAPES = 20'000, ENOUGH_TOGETHER = 8, MOST_MASKS = 8;
constexpr size_t BUCKETS = 120, FINE = 720, LEVELS = 7;
constexpr int64_t JITTER = 120 * SECOND;

struct Message {
    std::string skeleton, example, last_example;
    uint64_t count = 0, octets = 0;
    int64_t first = 0, last = 0;
    uint8_t level = 0;
    bool keeps = false;  // moments and the last example, of messages that tell something
    std::array<uint32_t, BUCKETS> buckets{};
    std::vector<int64_t> moments;
};

struct Known {
    uint64_t count = 0;
    int64_t first = 0, last = 0;
    std::string example;
};

// From one line's time to the next one's.
struct Step {
    int64_t from, to;
    uint64_t line;
};

class Scan {
  public:
    using Read = std::function<std::optional<std::pair<Time, std::optional<Minute>>>(std::string_view)>;
    using Judge = std::function<std::pair<int, bool>(std::string_view, std::string_view)>;
    using Merge = std::function<void(Scan &)>;

    Scan(int64_t first, int64_t last, size_t reach, size_t most, const std::vector<std::string> &zones,
         const std::vector<std::string> &known, Read read, Judge judge, Merge merge)
        : first_(first), span_(std::max<int64_t>(last - first, 1)), reach_(reach), most_(most), clock_(zones),
          read_(std::move(read)), judge_(std::move(judge)), merge_(std::move(merge)), known(known.size()) {
        if (known.empty()) return;
        RE2::Options options(RE2::Latin1);
        options.set_log_errors(false);  // whoever catches the exception says what is wrong
        set_ = std::make_unique<RE2::Set>(options, RE2::UNANCHORED);
        for (const std::string &pattern : known) {
            std::string why;
            if (set_->Add(pattern, &why) < 0) throw std::invalid_argument(why);
        }
        if (!set_->Compile()) throw std::invalid_argument("too large");
    }

    void feed(std::string_view data) {
        octets += data.size();
        while (!data.empty()) {
            const size_t end = data.find('\n');
            if (end == data.npos) {
                keep_rest(data);
                return;
            }
            if (rest_.empty()) {
                if (end > LONGEST_LINE) too_long++;
                take(data.substr(0, std::min(end, LONGEST_LINE)));
            } else {
                keep_rest(data.substr(0, end));
                take_rest();
            }
            data.remove_prefix(end + 1);
        }
    }

    // The end of a file, whose last line need not end.
    void finish() {
        if (!rest_.empty()) take_rest();
        clock_.forget();
    }

    // Put messages together: `into[n]` is the skeleton of message n. Later ones are told by these skeletons, too, where
    // `*` stands for words that an own one has not.
    void regroup(const std::vector<std::string> &into) {
        std::vector<std::unique_ptr<Message>> old;
        old.swap(messages);
        index_.clear();
        for (size_t number = 0; number < old.size(); number++) {
            Message &from = *old[number];
            const bool was_changed = into[number] != from.skeleton;
            if (was_changed) add_mask(from.skeleton, into[number]);
            const auto found = index_.find(into[number]);
            if (found != index_.end()) {
                join(*messages[found->second], from);
                continue;
            }
            from.skeleton = into[number];
            index_.emplace(from.skeleton, messages.size());
            messages.push_back(std::move(old[number]));
        }
    }

    // Of the last line with a time.
    int64_t moment() const { return moment_; }

    uint64_t lines = 0, untimed = 0, octets = 0, asked = 0, outside = 0, too_long = 0, steps_back = 0;
    int64_t earliest = INT64_MAX, latest = INT64_MIN;
    std::vector<std::unique_ptr<Message>> messages;
    std::vector<Step> gaps, back;
    std::array<std::array<uint64_t, LEVELS>, FINE> levels{};

  private:
    struct Hash {
        using is_transparent = void;
        size_t operator()(std::string_view text) const { return std::hash<std::string_view>{}(text); }
    };

    void keep_rest(std::string_view data) {
        const size_t room = LONGEST_LINE - rest_.size();
        if (data.size() > room && !is_cut_) too_long++;
        is_cut_ |= data.size() > room;
        rest_.append(data.substr(0, room));
    }
    void take_rest() {
        take(rest_);
        rest_.clear();
        is_cut_ = false;
    }

    void take(std::string_view line) {
        while (!line.empty() && (line.back() == '\r' || line.back() == ' ')) line.remove_suffix(1);
        lines++;
        if (line.empty()) return;
        const std::optional<Time> time = time_of(line);
        if (time) {
            note_step(time->moment);
            moment_ = time->moment;
        } else {
            untimed++;
        }
        if (set_) note_known(line);
        if (!time && (last_ == nullptr || line[0] == ' ' || line[0] == '\t')) {  // it goes on what came before
            if (last_ != nullptr) last_->octets += line.size() + 1;
            return;
        }
        count(line, time);
    }

    std::optional<Time> time_of(std::string_view line) {
        if (std::optional<Time> time = clock_.read(line, reach_)) return time;
        shape_.clear();
        bool has_number = false;
        for (const char byte : line.substr(0, std::min<size_t>(reach_, 240))) {
            has_number |= is_digit(byte) && !shape_.empty() && shape_.back() == '0';
            shape_ += is_digit(byte) ? '0' : byte;
        }
        if (!has_number || untimed_shapes_.contains(shape_)) return std::nullopt;
        asked++;
        auto found = read_(line.substr(0, 1600));
        if (!found) {
            if (untimed_shapes_.size() < MOST_SHAPES) untimed_shapes_.insert(shape_);
            return std::nullopt;
        }
        if (found->second) clock_.learn(line, found->first.start, std::move(*found->second));
        return found->first;
    }

    void note_step(int64_t moment) {
        earliest = std::min(earliest, moment);
        if (newest_ == INT64_MIN) {
            newest_ = latest = moment;
            return;
        }
        if (moment > latest) {
            const int64_t apart = moment - latest;
            if (apart > SECOND && (gaps.size() < MOST_STEPS || apart > gaps.front().to - gaps.front().from)) {
                const auto longer = [](const Step &a, const Step &b) { return a.to - a.from > b.to - b.from; };
                if (gaps.size() == MOST_STEPS) {
                    std::pop_heap(gaps.begin(), gaps.end(), longer);
                    gaps.pop_back();
                }
                gaps.push_back({latest, moment, lines});
                std::push_heap(gaps.begin(), gaps.end(), longer);
            }
            latest = moment;
        }
        if (moment < newest_ - JITTER) {
            steps_back++;
            if (back.size() < MOST_STEPS) back.push_back({newest_, moment, lines});
            newest_ = moment;
        }
        newest_ = std::max(newest_, moment);
    }

    void note_known(std::string_view line) {
        matched_.clear();
        if (!set_->Match(re2::StringPiece(line.data(), line.size()), &matched_)) return;
        for (const int number : matched_) {
            Known &issue = known[static_cast<size_t>(number)];
            if (!issue.count++) issue.first = moment_, issue.example = line.substr(0, LONGEST_EXAMPLE);
            issue.last = moment_;
        }
    }

    void count(std::string_view line, const std::optional<Time> &time) {
        const size_t start = time ? time->start : 0, end = time ? time->end : 0;
        std::string_view before = line.substr(0, start);
        const int told = priority(before);
        Message &message = message_of(skeleton_.of(before, line.substr(end), line[0] == '{'), line);
        if (!message.count++) message.first = moment_;
        message.last = moment_;
        message.octets += line.size() + 1;
        if (message.keeps) {
            if (message.moments.size() < MOST_MOMENTS) message.moments.push_back(moment_);
            message.last_example.assign(line.substr(0, LONGEST_EXAMPLE));
        }
        last_ = &message;
        int64_t since = moment_ - first_;
        if (since < 0 || since > span_) {
            outside++;
            since = since < 0 ? 0 : span_;
        }
        message.buckets[bucket(since, BUCKETS)]++;
        levels[bucket(since, FINE)][told ? static_cast<size_t>(told) : message.level]++;
    }

    size_t bucket(int64_t since, size_t many) const {
        return std::min(many - 1, static_cast<size_t>(static_cast<double>(since) / static_cast<double>(span_) * static_cast<double>(many)));
    }

    // The level that a syslog priority before the time tells, 1 to 6; 0 for none.
    static int priority(std::string_view &before) {
        if (before.size() < 3 || before[0] != '<') return 0;
        size_t pos = 1;
        int value = 0;
        while (pos < before.size() && is_digit(before[pos]) && pos < 4) value = value * 10 + (before[pos++] - '0');
        if (pos == before.size() || before[pos] != '>' || pos == 1) return 0;
        before.remove_prefix(pos + 1);
        if (!before.empty() && before.size() < 3 && is_digit(before[0])) before = {};
        static constexpr int LEVEL[] = {1, 1, 1, 2, 3, 4, 4, 5};
        return LEVEL[value & 7];
    }

    Message &message_of(std::string_view skeleton, std::string_view line) {
        const auto found = index_.find(skeleton);
        if (found != index_.end()) return *messages[found->second];
        if (Message *masked = by_mask(skeleton)) return *masked;
        if (Message *begun = by_beginning(skeleton)) return *begun;
        if (messages.size() >= most_) {
            last_ = nullptr;
            const std::string kept(skeleton);
            make_room();
            return message_of(kept, line);
        }
        auto made = std::make_unique<Message>();
        made->skeleton = skeleton;
        made->example = line.substr(0, LONGEST_EXAMPLE);
        const auto [level, keeps] = judge_(made->skeleton, made->example);
        made->level = static_cast<uint8_t>(level);
        made->keeps = keeps;
        index_.emplace(made->skeleton, messages.size());
        messages.push_back(std::move(made));
        return *messages.back();
    }

    // Too many messages: those that differ in values are put together, then the rarest by how they begin.
    void make_room() {
        if (is_worth_merging_) {
            const size_t before = messages.size();
            merge_(*this);
            is_worth_merging_ = messages.size() * 4 < before * 3;
        }
        for (const bool any : {false, true}) {  // those that tell something only if the others do not make room enough
            for (const size_t many : {size_t{5}, size_t{3}, size_t{1}, size_t{0}}) {
                if (messages.size() * 2 < most_) return;
                put_rare_together(many, any);
            }
        }
    }

    void put_rare_together(size_t many, bool any) {
        std::vector<uint64_t> counts;
        for (const auto &message : messages) counts.push_back(message->count);
        const size_t kept = most_ / 4;
        std::nth_element(counts.begin(), counts.begin() + static_cast<ptrdiff_t>(kept), counts.end(), std::greater<>());
        std::vector<std::string> into;
        std::unordered_set<std::string> together;
        for (const auto &message : messages) {
            const bool is_rare = message->count <= counts[kept] && (any || !message->keeps);
            into.push_back(is_rare ? std::string(beginning(message->skeleton, many)) + " …" : message->skeleton);
            if (is_rare) together.insert(into.back());
        }
        regroup(into);
        for (const auto &message : messages)
            if (message->count >= ENOUGH_TOGETHER && together.contains(message->skeleton))
                absorbing_[many].insert(message->skeleton);
    }

    // The first tokens of a skeleton.
    static std::string_view beginning(std::string_view skeleton, size_t many) {
        size_t pos = 0;
        for (size_t tokens = 0; pos < skeleton.size(); pos++)
            if ((skeleton[pos] == ' ' || skeleton[pos] == GLUE) && ++tokens >= many) break;
        return many ? skeleton.substr(0, pos) : std::string_view();
    }

    Message *by_beginning(std::string_view skeleton) {
        for (const auto &[many, skeletons] : absorbing_) {
            masked_.assign(beginning(skeleton, many));
            masked_ += " …";
            if (!skeletons.contains(masked_)) continue;
            const auto found = index_.find(masked_);
            if (found != index_.end()) return messages[found->second].get();
        }
        return nullptr;
    }

    static void join(Message &into, const Message &from) {
        if (from.first < into.first) into.first = from.first, into.example = from.example;
        into.last = std::max(into.last, from.last);
        into.count += from.count;
        into.octets += from.octets;
        into.keeps |= from.keeps;
        if (into.level == 0 || (from.level && from.level < into.level)) into.level = from.level;
        if (!from.last_example.empty()) into.last_example = from.last_example;
        for (size_t number = 0; number < BUCKETS; number++) into.buckets[number] += from.buckets[number];
        into.moments.insert(into.moments.end(), from.moments.begin(), from.moments.end());
        std::sort(into.moments.begin(), into.moments.end());
        if (into.moments.size() > MOST_MOMENTS) into.moments.resize(MOST_MOMENTS);
    }

    static std::vector<std::string_view> tokens_of(std::string_view skeleton) {
        std::vector<std::string_view> tokens;
        size_t begin = 0;
        for (size_t pos = 0; pos <= skeleton.size(); pos++) {
            if (pos < skeleton.size() && skeleton[pos] != ' ' && skeleton[pos] != GLUE) continue;
            tokens.push_back(skeleton.substr(begin, pos - begin));
            begin = pos + 1;
        }
        return tokens;
    }

    void add_mask(const std::string &from, const std::string &into) {
        const auto before = tokens_of(from), behind = tokens_of(into);
        if (before.size() != behind.size()) return;
        uint64_t mask = 0;
        for (size_t number = 0; number < before.size(); number++)
            if (before[number] != behind[number]) mask |= 1ULL << number;
        auto &masks = masks_[before.size()];
        const auto known = std::find_if(masks.begin(), masks.end(), [mask](const auto &one) { return one.first == mask; });
        if (known != masks.end()) {
            known->second++;
            if (known != masks.begin() && known[-1].second < known->second) std::iter_swap(known - 1, known);
        } else if (masks.size() < MOST_MASKS) {
            masks.emplace_back(mask, 1);
        } else {
            masks.back() = {mask, 1};
        }
    }

    Message *by_mask(std::string_view skeleton) {
        if (masks_.empty()) return nullptr;
        const auto tokens = tokens_of(skeleton);
        const auto masks = masks_.find(tokens.size());
        if (masks == masks_.end()) return nullptr;
        for (const auto &[mask, weight] : masks->second) {
            masked_.clear();
            for (size_t number = 0; number < tokens.size(); number++) {
                if (number) masked_ += skeleton[static_cast<size_t>(tokens[number].data() - skeleton.data()) - 1];
                masked_ += mask >> number & 1 ? std::string_view("*") : tokens[number];
            }
            const auto found = index_.find(masked_);
            if (found != index_.end()) return messages[found->second].get();
        }
        return nullptr;
    }

    int64_t first_, span_, moment_ = 0, newest_ = INT64_MIN;
    size_t reach_, most_;
    Clock clock_;
    Skeleton skeleton_;
    std::string rest_, masked_, shape_;
    bool is_cut_ = false;  // whether `rest_` is not all of its line
    std::unordered_set<std::string> untimed_shapes_;
    // How lines look that have no time.
    Message *last_ = nullptr;
    std::unordered_map<std::string, size_t, Hash, std::equal_to<>> index_;
    std::unordered_map<size_t, std::vector<std::pair<uint64_t, size_t>>> masks_;
    // By the number of tokens: which of them `*` stands for in some message, those of most messages first.
    std::map<size_t, std::unordered_set<std::string>, std::greater<>> absorbing_;
    // Beginnings that so many messages have that none of them is kept.
    bool is_worth_merging_ = true;
    std::unique_ptr<RE2::Set> set_;
    std::vector<int> matched_;
    Read read_;
    Judge judge_;
    Merge merge_;

  public:
    std::vector<Known> known;
};

}  // namespace evidence
