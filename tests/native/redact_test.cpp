// The parts of the redaction engine that need no Python: what reads bytes of strangers.
#define DOCTEST_CONFIG_IMPLEMENT_WITH_MAIN
#include <doctest/doctest.h>

#include <map>

#include "../../src/sealpacket/core/redact/native/anchors.hpp"
#include "../../src/sealpacket/core/redact/native/coats.hpp"
#include "../../src/sealpacket/core/redact/native/names.hpp"
#include "../../src/sealpacket/core/redact/native/originals.hpp"
#include "../../src/sealpacket/core/redact/native/wrapping.hpp"
#include "hostile.hpp"

using namespace redact;

namespace {

std::string packed(const std::vector<std::pair<std::string, std::string>> &pairs) {
    std::string made;
    for (const auto &[placeholder, original] : pairs) {
        put_text(made, placeholder);
        put_text(made, original);
    }
    return made;
}

std::string in_base64(std::string_view text) {
    constexpr std::string_view SIGNS = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string made;
    uint32_t bits = 0, count = 0;
    for (const char sign : text) {
        bits = bits << 8 | static_cast<uint8_t>(sign);
        for (count += 8; count >= 6;) made.push_back(SIGNS[bits >> (count -= 6) & 63]);
    }
    if (count) made.push_back(SIGNS[bits << (6 - count) & 63]);
    return made;
}

std::string in_hex(std::string_view text) {
    std::string made;
    for (const char sign : text) {
        made.push_back("0123456789abcdef"[static_cast<uint8_t>(sign) >> 4]);
        made.push_back("0123456789abcdef"[sign & 15]);
    }
    return made;
}

std::vector<std::pair<size_t, size_t>> found(const std::vector<Place> &places) {
    std::vector<std::pair<size_t, size_t>> made;
    for (const Place &one : places) made.emplace_back(one.start, one.end);
    return made;
}

const Ordinary NOTHING_ORDINARY(std::vector<std::string>{});

}  // namespace

TEST_CASE("a legend counts each pair once, whatever stands in it") {
    Hostile hostile(1);
    for (size_t time = 0; time < tries() / 10; time++) {
        Legend legend;
        std::map<std::pair<std::string, std::string>, uint64_t> wanted;
        for (size_t pair = hostile.upto(300); pair > 0; pair--) {
            const std::string placeholder = hostile.text(12), original = hostile.text(3);
            legend.add(placeholder, original);
            wanted[{placeholder, original}]++;
        }
        REQUIRE(legend.size() == wanted.size());
        for (size_t number = 0; number < legend.size(); number++) {
            const auto [placeholder, original] = legend.pair(number);
            CHECK(legend.times(number) == wanted.at({std::string(placeholder), std::string(original)}));
        }
        const std::vector<size_t> often = legend.most_often(legend.size() + 5);
        REQUIRE(often.size() == legend.size());
        for (size_t place = 1; place < often.size(); place++) {
            const uint64_t before = legend.times(often[place - 1]), here = legend.times(often[place]);
            CHECK((before > here || (before == here && legend.pair(often[place - 1]) < legend.pair(often[place]))));
        }
    }
}

TEST_CASE("a legend comes back from its parts, however small they are") {
    Hostile hostile(2);
    for (size_t time = 0; time < tries() / 10; time++) {
        Legend legend, again, sorted;
        for (size_t pair = hostile.upto(80); pair > 0; pair--) legend.add(hostile.text(20), hostile.text(20));
        const size_t bytes = 1 + hostile.upto(200);
        for (size_t start = 0; start < legend.size();) {
            const auto [part, next] = legend.packed_part(start, bytes);
            REQUIRE(next > start);
            CHECK(again.unpack(part) == part.size());
            start = next;
        }
        CHECK(again.size() == legend.size());
        std::pair<std::string, std::string> before;
        for (size_t start = 0; start < legend.size();) {
            const auto [part, next] = legend.sorted_part(start, bytes);
            REQUIRE(next > start);
            each_counted(part, [&](uint32_t times, std::string_view placeholder, std::string_view original) {
                const std::pair<std::string, std::string> here(placeholder, original);
                CHECK((sorted.size() == 0 || before < here));
                before = here;
                sorted.add(placeholder, original, times);
            });
            start = next;
        }
        CHECK(sorted.size() == legend.size());
        CHECK(legend.packed_part(legend.size(), 10).first.empty());
    }
}

TEST_CASE("a legend begun anew numbers on, and knows what was known") {
    Legend legend;
    CHECK(legend.add("[ip:a]", "10.0.0.1") == 0);
    CHECK(legend.add("[ip:b]", "10.0.0.2") == 1);
    CHECK(legend.count(1));
    CHECK(legend.times(1) == 2);
    legend.clear(true);
    CHECK(legend.size() == 0);
    CHECK(legend.count(0));  // known elsewhere: it need not be told again
    CHECK(legend.add("[ip:c]", "10.0.0.3") == 2);
    legend.clear(false);
    CHECK_FALSE(legend.count(2));
    CHECK(legend.add("[ip:c]", "10.0.0.3") == 3);
}

TEST_CASE("a cut legend gives its whole pairs and reads nothing behind its end") {
    const std::string whole = packed({{"[ip:a]", "10.0.0.1"}, {"[user:b]", "ines"}});
    const size_t first = packed({{"[ip:a]", "10.0.0.1"}}).size();
    for (size_t size = 0; size <= whole.size(); size++) {
        const std::vector<char> alone(whole.begin(), whole.begin() + static_cast<ptrdiff_t>(size));  // so that a sanitizer sees its end
        Legend legend;
        CHECK(legend.unpack({alone.data(), alone.size()}) == (size < first ? 0 : size < whole.size() ? first : size));
    }
    std::string counted(4, '\1');
    counted += whole.substr(0, first);
    each_counted(counted, [](uint32_t times, auto...) { CHECK(times == 0x01010101); });
    CHECK_THROWS_AS(each_counted(counted.substr(0, counted.size() - 1), [](auto...) {}), std::invalid_argument);
    const std::string huge = std::string("\xff\xff\xff\xff", 4) + "abc";
    CHECK(Legend().unpack(huge) == 0);
}

TEST_CASE("what is wanted of a legend is found by its small letters and by what is written") {
    Wanted wanted({"ines", "10.0.0.1"}, {"[ip:a]", "user-b"});
    wanted.look(packed({{"[ip:a]", "10.0.0.1"}, {"[user:b]user-b", "INES"}, {"[ip:c]", "10.0.0.9"}}));
    CHECK(wanted.originals().at("ines").contains({"[user:b]user-b", "INES"}));
    CHECK(wanted.originals().at("10.0.0.1").size() == 1);
    CHECK(wanted.known == std::unordered_set<std::string>{"[ip:a]", "user-b"});
    CHECK(Wanted::as_written("[ip:a]") == "[ip:a]");
    CHECK(Wanted::as_written("[ip:a]192.0.2.1") == "192.0.2.1");
    for (const std::string_view odd : {"", "[", "[]", "[:]", "[ip", "[ip:", "[ip:]", "ip:a]b"}) CHECK(Wanted::as_written(odd) == odd);
}

TEST_CASE("what stands in base64 or hex is decoded, wherever it begins") {
    Hostile hostile(3);
    for (size_t time = 0; time < tries(); time++) {
        std::string words;
        while (words.size() < 24) words += "kiosk " + std::to_string(hostile.upto(999)) + " ";
        const std::string before(hostile.upto(40), '.'), behind(hostile.upto(40), ' ');
        CHECK(Decoder::base64(before + in_base64(words) + behind, 16, nullptr).find(words) != std::string::npos);
        CHECK(Decoder::hex(before + in_hex(words) + behind, 16, nullptr).find(words) != std::string::npos);
        std::string spaced;
        for (const char sign : words) spaced += in_hex({&sign, 1}) + ':';
        CHECK(Decoder::spaced_hex(before + spaced + behind, nullptr).find(words) != std::string::npos);
    }
    CHECK(Decoder::base64("short", 16, nullptr).empty());
    CHECK(Decoder::numbers("x = [104, 101, 114, 111, 110, 45, 55, 55]", nullptr) == "heron-77\n");
    CHECK(Decoder::numbers("0x68, 0x65, 0x72, 0x6f, 0x6e, 0x2d, 0x37, 0x37", nullptr) == "heron-77\n");
    CHECK(Decoder::dumps("00000000: 6865 726f 6e2d 3737  heron-77\n").find("heron-77") != std::string::npos);
}

TEST_CASE("lines are put together again, and the places are where they were parted") {
    Joins joins;
    CHECK(Decoder::joined("her=\non-\\\r\n  77\n", "", joins) == "heron-77");
    CHECK(joins == Joins{3, 6, 8});
    joins.clear();
    CHECK(Decoder::joined("Ines\n> Harrowgate", " ", joins) == "Ines Harrowgate");
    CHECK(joins == Joins{5});
    joins.clear();
    CHECK(Decoder::joined("", "", joins).empty());
    CHECK(joins.empty());
}

TEST_CASE("over the places, the same is found as in all of a text, if it goes over one") {
    Hostile hostile(4);
    for (size_t time = 0; time < tries(); time++) {
        const std::string text = hostile.text(2000);
        Joins joins;
        const std::string whole = Decoder::joined(text, "", joins);
        CHECK(std::is_sorted(joins.begin(), joins.end()));
        CHECK((joins.empty() || joins.back() <= whole.size()));
        for (const auto decode : {&Decoder::base64, &Decoder::hex}) {
            const std::string all = decode(whole, 16, nullptr), over = decode(whole, 16, &joins);
            CHECK(over.size() <= all.size());
            for (size_t at = 0; at < over.size();) {
                const size_t end = over.find('\n', at);
                CHECK(all.find(over.substr(at, end - at)) != std::string::npos);
                at = end + 1;
            }
        }
        Decoder::spaced_hex(whole, &joins);
        Decoder::numbers(whole, &joins);
        Decoder::dumps(whole);
        const unsigned marks = CoatMarks::in(whole, nullptr);
        CHECK((CoatMarks::in(whole, &joins) & ~marks) == 0);
        for (unsigned mark = 1; mark && mark <= marks; mark <<= 1)
            if (marks & mark) CHECK_FALSE(CoatMarks::stretches(whole, mark, 16 + hostile.upto(80)).empty());
    }
}

TEST_CASE("every original is found where it stands") {
    Hostile hostile(5);
    const std::vector<std::string> originals{"10.40.7.22", "TN9-44120-A", "ines", "Ines Harrowgate", "br07-kiosk2.quillmere.example"};
    std::vector<std::pair<std::string, std::string>> pairs;
    for (const std::string &one : originals) pairs.emplace_back("[host:aaaaaaaaaa]", one);
    Originals search(pairs.size(), {}, NOTHING_ORDINARY, 0, 1);
    search.add(packed(pairs));
    search.close();
    CHECK(search.searched() == originals.size());
    CHECK(search.any_blank());
    for (size_t time = 0; time < tries(); time++) {
        const std::string &one = originals[hostile.upto(originals.size() - 1)];
        const std::string before = hostile.text(300) + ' ', text = before + one + ' ' + hostile.text(300);
        const auto places = found(search.search(text));
        CHECK(std::find(places.begin(), places.end(), std::pair(before.size(), before.size() + one.size())) != places.end());
    }
    CHECK(found(search.search("TN9-44120-B 10.40.7.2 linesman")).empty());
    const std::string over = "see Ines Harrowgate";
    CHECK(found(search.search_over(over, {9})) == std::vector<std::pair<size_t, size_t>>{{4, 19}});
    CHECK(found(search.search_over(over, {4})).empty());
}

TEST_CASE("what the plan keeps, and ordinary words, are not searched for") {
    const Ordinary ordinary({"printer", "backup"});
    Originals search(4, {"tn9-44120-a"}, ordinary, 0, 1);
    search.add(packed({{"[asset:a]", "TN9-44120-A"}, {"[user:b]", "backup"}, {"[host:c]", "printer"}, {"[host:d]", "printer.example"}}));
    search.close();
    CHECK(search.searched() == 1);
    CHECK(search.not_searched() == 3);
    CHECK(found(search.search("printer backup TN9-44120-A printer.example")) == std::vector<std::pair<size_t, size_t>>{{27, 42}});
}

TEST_CASE("the shares of a legend together are the whole of it") {
    std::vector<std::pair<std::string, std::string>> pairs;
    for (size_t number = 0; number < 200; number++) pairs.emplace_back("[ip:a]", "10.40.7." + std::to_string(number) + ".long");
    size_t searched = 0;
    for (size_t share = 0; share < 3; share++) {
        Originals search(pairs.size(), {}, NOTHING_ORDINARY, share, 3);
        search.add(packed(pairs));
        search.close();
        CHECK(search.searched() < pairs.size());
        searched += search.searched();
    }
    CHECK(searched == pairs.size());
}

TEST_CASE("anchors find the same lines in a large text, in a small one, and one line at a time") {
    Hostile hostile(6);
    for (size_t time = 0; time < tries() / 20; time++) {
        Anchors anchors;
        const std::vector<std::string> patterns{"password", "(?i)HOST: *[a-z0-9]+", "\\bbr[0-9]{2}-", "=$", "^\\[", "0x[0-9a-f]+"};
        for (size_t number = 0; number < patterns.size(); number++) {
            Bits bits;
            bits.set(number);
            anchors.add(patterns[number], bits);
        }
        anchors.finish();
        const std::string text = hostile.text(20'000);
        std::vector<Anchors::Line> lines;
        anchors.lines(text, lines);
        size_t line = 0;
        LineEnds(text).each([&](size_t begin, size_t end, bool) {
            std::vector<Anchors::Line> alone;
            anchors.lines(std::string_view(text).substr(begin, end - begin), alone);
            const bool is_one = line < lines.size() && lines[line].start == begin;
            REQUIRE(alone.size() == is_one);
            if (!is_one) return;
            CHECK(lines[line].end == end);
            CHECK(lines[line].bits == alone.front().bits);
            line++;
        });
        CHECK(line == lines.size());
    }
}

TEST_CASE("an anchor in a syntax that is not known says so and adds nothing") {
    for (const std::string_view odd : {"(", ")", "[", "a{2000}", "(?P<name>a)(?P=name)", "\\", "*a", "[z-a]"}) {
        Program program;
        CAPTURE(odd);
        CHECK_THROWS_AS(PatternReader::add(program, odd, 0), Unread);
        CHECK(program.steps.empty());
    }
}

TEST_CASE("lines end where they end") {
    Hostile hostile(7);
    for (size_t time = 0; time < tries(); time++) {
        const std::string text = hostile.text(1000);
        std::vector<size_t> wanted;
        for (size_t at = 0; at < text.size(); at++)
            if (text[at] == '\n') wanted.push_back(at);
        const LineEnds ends(text);
        CHECK(ends.all == wanted);
        const size_t limit = hostile.upto(1100);
        CHECK(ends.before(limit) == static_cast<size_t>(std::count_if(wanted.begin(), wanted.end(), [&](size_t end) { return end < limit; })));
        for (const size_t end : wrapped_ends(ends)) CHECK(text[end] == '\n');
        const Shapes shapes = shapes_of(ends);
        for (const Labelled &one : shapes.labelled) {
            CHECK(one.label < one.label_end);
            CHECK(one.label_end < one.value);
            CHECK(one.value < one.end);
            CHECK(one.end <= text.size());
        }
    }
}

TEST_CASE("lines are told by their shape") {
    CHECK(may_be_rule("  |----+---"));
    CHECK_FALSE(may_be_rule("- one"));
    CHECK(may_be_heads("Name    Host    State"));
    CHECK_FALSE(may_be_heads("all one sentence of words"));
    CHECK(begins_statement("  insert into hosts (name) values"));
    CHECK(begins_statement("COPY hosts (name) FROM stdin;"));
    CHECK_FALSE(begins_statement("copy that to the desk"));
    Labelled found{};
    CHECK(is_labelled("Serial number    TN9-44120-A", 100, found));
    CHECK(found.label == 100);
    CHECK(found.value == 117);
    CHECK_FALSE(is_labelled("one word", 0, found));
    const std::string text = "password = abc\\\ndef\n";
    CHECK(wrapped_ends(LineEnds(text)) == std::vector<size_t>{15});
}

TEST_CASE("signs are counted alike one by one and many at once") {
    Hostile hostile(8);
    for (size_t time = 0; time < tries(); time++) {
        const std::string text = hostile.text(700);
        OddBytes wanted;
        for (const char byte : text) {
            const auto sign = static_cast<uint8_t>(byte);
            const bool control = sign < 32 && !(sign >= 8 && sign <= 13) && sign != 27;
            wanted.nuls += sign == 0;
            wanted.odd += sign != 0 && (control || sign == 127);
        }
        const OddBytes counted = odd_bytes(text);
        CHECK(counted.odd == wanted.odd);
        CHECK(counted.nuls == wanted.nuls);
        for (size_t at = 0; at + 64 <= text.size(); at += 1 + hostile.upto(30)) {
            uint64_t runs = 0, any = 0;
            for (size_t place = 0; place < 64; place++) {
                runs |= static_cast<uint64_t>(in_run(text[at + place])) << place;
                any |= static_cast<uint64_t>(text[at + place] == '\n' || text[at + place] == '=' || text[at + place] == ' ' || text[at + place] == '0') << place;
            }
            CHECK(runs_of(text.data() + at) == runs);
            CHECK(any_of(text.data() + at, "\n= 0") == any);
        }
    }
}

TEST_CASE("a coat is only worn by what reads like text, or is known") {
    std::string space;
    const auto nothing = [](const std::string &) { return false; };
    CHECK(may_wear_coat("token " + in_base64("heron in the reeds"), space, nothing));
    CHECK(may_wear_coat("x'" + in_hex("heron in the reeds") + "'", space, nothing));
    CHECK_FALSE(may_wear_coat("a line of short words only", space, nothing));
    const std::string odd = in_base64(std::string("\x01\x93\xff\x80\xc1\x07\xfe\x90\x81\x05\xf0\x99", 12));
    CHECK_FALSE(may_wear_coat(odd, space, nothing));
    CHECK(may_wear_coat(odd, space, [](const std::string &) { return true; }));
    CHECK(is_wrapped_base64(in_base64(std::string(45, 'x'))));
    CHECK_FALSE(is_wrapped_base64("too short"));
    CHECK(is_utf8("\xc3\xa9t\xc3\xa9"));
    for (const char *const broken : {"\xc3", "\xe2\x80", "\x80", "\xff", "a\xc3z"}) CHECK_FALSE(is_utf8(broken));
    Hostile hostile(9);
    for (size_t time = 0; time < tries(); time++) may_wear_coat(hostile.text(500), space, nothing);
}

TEST_CASE("three names side by side are names") {
    CHECK(has_three_names("by Ines Quill Harrowgate today"));
    CHECK(has_three_names("Harrowgate, Ines Quill"));
    CHECK(has_three_names("Ines Q. Harrowgate"));
    CHECK_FALSE(has_three_names("Ines Harrowgate"));
    CHECK_FALSE(has_three_names("Ines and Quill and Harrowgate"));
    CHECK_FALSE(has_three_names(""));
    Hostile hostile(10);
    for (size_t time = 0; time < tries(); time++) has_three_names(hostile.text(300));
}

TEST_CASE("names of programs are put together of ordinary words") {
    const Ordinary ordinary({"key", "password", "get", "item", "config", "rsa", "self"});
    for (const std::string_view name : {"key_password", "getItem", "RSAKey", "config.get", " key "}) CHECK(ordinary.has(name));
    for (const std::string_view value : {"heron", "key_heron", "key7", "", "a.b", "k\xc3\xa9y"}) CHECK_FALSE(ordinary.has(value));
    CHECK(ordinary.are_of_a_program("config.get(\"x\")"));
    CHECK(ordinary.are_of_a_program("self.key"));
    CHECK_FALSE(ordinary.are_of_a_program("heron(77)"));
    CHECK_FALSE(ordinary.are_of_a_program("(key)"));
}
