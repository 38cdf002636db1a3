// The log summary's pass over the bytes of strangers: times, skeletons, and what is kept of a log.
#define DOCTEST_CONFIG_IMPLEMENT_WITH_MAIN
#include <doctest/doctest.h>

#include "../../src/sealpacket/core/evidence/native/scan.hpp"
#include "hostile.hpp"

using namespace evidence;

namespace {

constexpr int64_t MINUTE = 1'795'160'400 * SECOND;

// What Python would have read in "2026-11-20 07:40:SS …": the minute begins at MINUTE.
Minute iso_minute() { return {"2026-11-20 07:40:", " ", true, MINUTE, 0, false, 0}; }

struct Logs {
    size_t asked = 0;
    std::vector<std::string> judged;

    Scan scan(size_t most = 100, const std::vector<std::string> &known = {}) {
        return Scan(MINUTE, MINUTE + 60 * SECOND, 200, most, {"CET"}, known, [this](std::string_view line) { return read(line); },
                    [this](std::string_view skeleton, std::string_view) {
                        judged.emplace_back(skeleton);
                        return std::pair(skeleton.find("error") != std::string_view::npos ? 3 : 5, true);
                    },
                    [](Scan &) {});
    }

    std::optional<std::pair<Time, std::optional<Minute>>> read(std::string_view line) {
        asked++;
        const size_t at = line.find("2026-11-20 07:40:");
        if (at == line.npos || at + 19 > line.size()) return std::nullopt;
        const int seconds = (line[at + 17] - '0') * 10 + line[at + 18] - '0';
        return std::pair(Time{MINUTE + seconds * SECOND, at, at + 19}, std::optional(iso_minute()));
    }
};

std::string shown(std::string_view skeleton) {
    std::string made(skeleton);
    std::replace(made.begin(), made.end(), GLUE, '_');
    return made;
}

}  // namespace

TEST_CASE("a minute that was learned is read again, to the microsecond") {
    Clock clock({"CET"});
    const std::string first = "2026-11-20 07:40:03 one";
    CHECK_FALSE(clock.read(first, 200));
    clock.learn(first, 0, iso_minute());
    const auto same = clock.read("2026-11-20 07:40:59.25 two", 200);
    REQUIRE(same);
    CHECK(same->moment == MINUTE + 59'250'000);
    CHECK(same->start == 0);
    CHECK(same->end == 22);
    for (const std::string_view other : {"2026-11-20 07:41:00 a", "2026-11-20 07:40:60 a", "2026-11-20 07:40:7 a", "2026-11-20 07:40:",
                                         "2026-11-20 07:40:03 +01:00 a", "2026-11-20 07:40:03 CET a", "2026-11-20 07:40:03Z a",
                                         "2026-11-20 07:40:03 PM a", "x 2026-11-20 07:40:03 a"}) {
        CAPTURE(other);
        CHECK_FALSE(clock.read(other, 200));
    }
    CHECK_FALSE(clock.read("2026-11-20 07:40:59 a", 10));  // behind where times are looked for
    clock.forget();
    CHECK_FALSE(clock.read(first, 200));
}

TEST_CASE("a day that was learned gives all its minutes") {
    Clock clock({});
    const std::string line = "[2026-11-20 07:40:03] one";
    clock.learn(line, 1, {"2026-11-20 ", "]", false, MINUTE, 0, true, ':'});
    const auto later = clock.read("[2026-11-20 23:59:58] two", 200);
    REQUIRE(later);
    CHECK(later->moment == MINUTE + ((23 * 60 + 59) * 60 + 58) * SECOND);
    CHECK_FALSE(clock.read("[2026-11-20 24:00:00] two", 200));
    CHECK_FALSE(clock.read("[2026-11-20 23:60:00] two", 200));
    CHECK_FALSE(clock.read("[2026-11-20 23.59.58] two", 200));
}

TEST_CASE("seconds since 1970 are read in each of their lengths") {
    for (const auto &[number, digits] : {std::pair("1795160403", 10), {"1795160403500", 13}, {"1795160403500000", 16}, {"1795160403500000000", 19}}) {
        Clock clock({});
        const std::string line = std::string("ts=") + number + " one";
        clock.learn(line, 3, {"17951", "", true, 0, digits, false, 0});
        const auto time = clock.read(line, 200);
        REQUIRE(time);
        CHECK(time->moment == 1'795'160'403 * SECOND + (digits == 10 ? 0 : 500'000));
        CHECK_FALSE(clock.read(std::string("ts=") + number + "0 one", 200));
        CHECK_FALSE(clock.read(std::string("ts=7") + number + " one", 200));
        CHECK_FALSE(clock.read(std::string("ts=") + number + "x one", 200));
    }
}

TEST_CASE("a skeleton is a message without what changes") {
    Skeleton skeleton;
    const auto of = [&](std::string_view text) { return shown(skeleton.of("", text, false)); };
    CHECK(of("disk 7 failed on 10.40.7.22") == of("disk 12 failed on 10.40.9.1"));
    CHECK(of("disk 7 failed") != of("disk 7 replaced"));
    CHECK(of("E-3312 write latency 40 ms").find("E-3312") == 0);
    CHECK(of("user=ines path=/etc/hosts") == of("user=teo path=/var/log"));
    CHECK(of("said \"one thing\"") == of("said \"another\""));
    CHECK(of("\"GET /a HTTP/1.1\" 404 12") == of("\"GET /b/c HTTP/1.1\" 403 9"));
    CHECK(of("\"GET /a HTTP/1.1\" 404 12") != of("\"GET /a HTTP/1.1\" 504 12"));
    CHECK(of("").empty());
    Hostile hostile(1);
    for (size_t time = 0; time < tries(); time++) {
        const std::string text = hostile.text(3000);
        const std::string once(skeleton.of("", text, false));
        CHECK(std::count_if(once.begin(), once.end(), [](char sign) { return sign == ' ' || sign == GLUE; }) < 64);
        CHECK(std::string(skeleton.of("", text, false)) == once);
    }
}

TEST_CASE("a log is counted line by line, whatever the blocks are that it comes in") {
    std::string log;
    for (int line = 0; line < 60; line++)
        log += "2026-11-20 07:40:" + std::to_string(line / 10) + std::to_string(line % 10) + " error on disk " + std::to_string(line) + "\r\n  goes on\n";
    log += "no time here";
    for (const size_t block : {size_t{1}, size_t{7}, size_t{64}, log.size()}) {
        Logs logs;
        Scan scan = logs.scan();
        for (size_t at = 0; at < log.size(); at += block) scan.feed(std::string_view(log).substr(at, block));
        scan.finish();
        CHECK(scan.lines == 121);
        CHECK(scan.untimed == 61);
        CHECK(scan.octets == log.size());
        CHECK(scan.earliest == MINUTE);
        CHECK(scan.latest == MINUTE + 59 * SECOND);
        REQUIRE(scan.messages.size() == 2);
        CHECK(scan.messages[0]->count == 60);
        CHECK(scan.messages[0]->level == 3);
        CHECK(scan.messages[0]->moments.size() == 60);
        CHECK(scan.asked <= 2);  // the minute is learned from the first line
        uint64_t in_buckets = 0;
        for (const uint32_t one : scan.messages[0]->buckets) in_buckets += one;
        CHECK(in_buckets == 60);
    }
}

TEST_CASE("gaps and steps back are told, the longest ones") {
    Logs logs;
    Scan scan = logs.scan();
    for (const char *const seconds : {"01", "02", "30", "31", "59"}) scan.feed(std::string("2026-11-20 07:40:") + seconds + " a\n");
    scan.finish();
    REQUIRE(scan.gaps.size() == 2);
    for (const Step &gap : scan.gaps) CHECK(gap.to - gap.from == 28 * SECOND);
    CHECK(scan.steps_back == 0);
}

TEST_CASE("known issues are counted with their first and last time") {
    Logs logs;
    Scan scan = logs.scan(100, {"screen [a-z]+ lost", "never"});
    scan.feed("2026-11-20 07:40:01 screen left lost\n2026-11-20 07:40:09 screen right lost\n");
    scan.finish();
    CHECK(scan.known[0].count == 2);
    CHECK(scan.known[0].last - scan.known[0].first == 8 * SECOND);
    CHECK(scan.known[1].count == 0);
    CHECK_THROWS_AS(logs.scan(100, {"(broken"}), std::invalid_argument);
}

TEST_CASE("more different messages than may be are put together, and none is lost") {
    Logs logs;
    Scan scan = logs.scan(16);
    size_t lines = 0;
    for (char first = 'a'; first <= 'z'; first++)
        for (char second = 'a'; second <= 'z'; second++, lines++)
            scan.feed(std::string("2026-11-20 07:40:01 ") + first + " " + second + " word" + first + second + " ends\n");
    scan.finish();
    CHECK(scan.messages.size() <= 16);
    uint64_t counted = 0;
    for (const auto &message : scan.messages) counted += message->count;
    CHECK(counted == lines);
}

TEST_CASE("a line without end is cut, and says so") {
    Logs logs;
    Scan scan = logs.scan();
    const std::string part(1 << 15, 'x');
    for (int time = 0; time < 5; time++) scan.feed(part);
    scan.feed("\n2026-11-20 07:40:01 a\n");
    scan.finish();
    CHECK(scan.too_long == 1);
    CHECK(scan.lines == 2);
    CHECK(scan.octets == 5 * part.size() + 23);
}

TEST_CASE("no bytes at all bring it down") {
    Hostile hostile(2);
    for (size_t time = 0; time < tries(); time++) {
        Logs logs;
        Scan scan = logs.scan(4 + hostile.upto(20), {"kiosk"});
        std::string all;
        for (size_t block = hostile.upto(6); block > 0; block--) {
            const std::string text = hostile.text(3000);
            all += text;
            scan.feed(text);
        }
        scan.finish();
        CHECK(scan.octets == all.size());
        const auto ends = static_cast<uint64_t>(std::count(all.begin(), all.end(), '\n'));
        CHECK(scan.lines >= ends);
        CHECK(scan.lines <= ends + 1);
        CHECK(scan.untimed <= scan.lines);
    }
}
