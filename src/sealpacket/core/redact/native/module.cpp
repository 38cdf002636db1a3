// What Python sees; _native.pyi says what each call is for.
#include <pybind11/pybind11.h>
#include <pybind11/stl.h>

#include "bared.hpp"
#include "originals.hpp"
#include "pass.hpp"

namespace py = pybind11;
using namespace redact;

namespace {

// A pattern by itself.
class Pattern {
  public:
    explicit Pattern(const std::string &pattern) : made_(compiled(pattern, Detectors::WHOLE)) {}

    size_t count(const py::bytes &buffer) const {
        const std::string_view text = buffer;
        size_t pos = 0, many = 0;
        re2::StringPiece hit;
        while (pos <= text.size() && made_->Match(piece(text), pos, text.size(), RE2::UNANCHORED, &hit, 1)) {
            many++;
            pos = hit.data() - text.data() + std::max<size_t>(hit.size(), 1);
        }
        return many;
    }

    bool is_whole(const py::bytes &text) const { return RE2::FullMatch(piece(text), *made_); }

  private:
    std::unique_ptr<RE2> made_;
};

// Anchors by themselves, to be tested: each stands for its number.
class NumberedAnchors {
  public:
    explicit NumberedAnchors(const std::vector<std::string> &patterns) : many_(patterns.size()) {
        for (size_t number = 0; number < many_; number++) {
            Bits bits;
            bits.set(number);
            try {
                anchors_.add(patterns[number], bits);
            } catch (const Unread &error) {
                throw py::value_error(patterns[number] + ": " + error.what());
            }
        }
        anchors_.finish();
    }

    size_t times_full() const { return anchors_.times_full(); }
    size_t states() const { return anchors_.states(); }

    py::list lines(const py::bytes &text) {
        std::vector<Anchors::Line> found;
        anchors_.lines(std::string_view(text), found);
        py::list made;
        for (const Anchors::Line &line : found) {
            py::list numbers;
            for (size_t number = 0; number < many_; number++)
                if (line.bits.has(number)) numbers.append(number);
            made.append(py::make_tuple(line.start, line.end, numbers));
        }
        return made;
    }

  private:
    size_t many_;
    Anchors anchors_;
};

// Where lines were put together, kept on this side: there may be many.
struct Places {
    Joins all;
};

const Joins *of(const Places *joins) { return joins ? &joins->all : nullptr; }

py::list places(const std::vector<Place> &found) {
    py::list made;
    for (const Place &one : found) made.append(py::make_tuple(one.start, one.end));
    return made;
}

}  // namespace

PYBIND11_MODULE(_native, module) {
    module.attr("LEAVE") = Detectors::LEAVE;
    module.attr("LONG") = Detectors::LONG;
    py::class_<Detectors, std::shared_ptr<Detectors>>(module, "Detectors")
        .def(py::init<>())
        .def("add_detector", &Detectors::add_detector)
        .def("add_anchor", &Detectors::add_anchor)
        .def("finish", &Detectors::finish);
    py::class_<Scanner, std::shared_ptr<Scanner>>(module, "Scanner")
        .def(py::init<std::shared_ptr<Detectors>, bool>())
        .def("add_term", &Scanner::add_term)
        .def("add_terms", &Scanner::add_terms)
        .def("add_known", &Scanner::add_known)
        .def("knows", [](const Scanner &scanner, const py::bytes &folded) { return scanner.find_known(std::string_view(folded)) != nullptr; })
        .def("add_family", &Scanner::add_family)
        .def("add_keep", &Scanner::add_keep)
        .def("add_floor", &Scanner::add_floor)
        .def("add_keep_kind", &Scanner::add_keep_kind);
    py::class_<NumberedAnchors>(module, "Anchors")
        .def(py::init<const std::vector<std::string> &>())
        .def("lines", &NumberedAnchors::lines)
        .def_property_readonly("times_full", &NumberedAnchors::times_full)
        .def_property_readonly("states", &NumberedAnchors::states);
    py::class_<Labels, std::shared_ptr<Labels>>(module, "Labels")
        .def(py::init([](const py::bytes &key) { return std::make_shared<Labels>(std::string_view(key)); }))
        .def("of", [](const Labels &labels, const std::string &kind, const py::bytes &canonical) {
            return py::bytes(labels.of(kind, canonical));
        })
        .def("noted", [](const Labels &labels, const std::string &kind, const py::bytes &written) {
            return py::bytes(labels.noted(kind, std::string_view(written)));
        })
        .def_readwrite("shape", &Labels::shape);
    py::class_<Legend, std::shared_ptr<Legend>>(module, "Legend")
        .def(py::init<>())
        .def("add", [](Legend &legend, const py::bytes &placeholder, const py::bytes &original) {
            legend.add(placeholder, original);
        })
        .def("tallies",
             [](const Legend &legend, size_t most) {
                 py::list made;
                 for (const size_t number : legend.most_often(most)) {
                     const auto [placeholder, original] = legend.pair(number);
                     made.append(py::make_tuple(py::bytes(placeholder.data(), placeholder.size()),
                                                py::bytes(original.data(), original.size()), legend.times(number)));
                 }
                 return made;
             })
        .def("placeholders", &Legend::placeholders)
        .def("merge", &Legend::merge)
        .def("packed_part",
             [](const Legend &legend, size_t start, size_t bytes) {
                 const auto [part, next] = legend.packed_part(start, bytes);
                 return py::make_tuple(py::bytes(part.data(), part.size()), next);
             })
        .def("sorted_part",
             [](Legend &legend, size_t start, size_t bytes) {
                 const auto [part, next] = legend.sorted_part(start, bytes);
                 return py::make_tuple(py::bytes(part), next);
             })
        .def("clear", &Legend::clear, py::arg("are_known"))
        .def("memory", &Legend::memory)
        .def("unpack", [](Legend &legend, const py::bytes &packed) { return legend.unpack(packed); })
        .def("__len__", &Legend::size);
    module.def("counted", [](const py::bytes &block) {
        py::list made;
        each_counted(block, [&](uint32_t times, std::string_view placeholder, std::string_view original) {
            made.append(py::make_tuple(py::bytes(placeholder.data(), placeholder.size()),
                                       py::bytes(original.data(), original.size()), times));
        });
        return made;
    });
    module.def("uncounted", [](const py::bytes &block) {
        std::string made;
        each_counted(block, [&](uint32_t, std::string_view placeholder, std::string_view original) {
            put_text(made, placeholder);
            put_text(made, original);
        });
        return py::bytes(made);
    });
    py::class_<Wanted>(module, "Wanted")
        .def(py::init<const std::vector<std::string> &, const std::vector<std::string> &>())
        .def("look", [](Wanted &wanted, const py::bytes &packed) { wanted.look(packed); })
        .def("pairs",
             [](const Wanted &wanted) {
                 py::dict made;
                 for (const auto &[lower, pairs] : wanted.originals()) {
                     py::list all;
                     for (const auto &[placeholder, original] : pairs)
                         all.append(py::make_tuple(py::bytes(placeholder), py::bytes(original)));
                     if (!pairs.empty()) made[py::bytes(lower)] = all;
                 }
                 return made;
             })
        .def("placeholders", [](const Wanted &wanted) {
            py::set made;
            for (const std::string &one : wanted.known) made.add(py::bytes(one));
            return made;
        });
    py::class_<Ordinary>(module, "Ordinary")
        .def(py::init<const std::vector<std::string> &>())
        .def("has", [](const Ordinary &ordinary, const py::bytes &text) { return ordinary.has(std::string_view(text)); });
    py::class_<Secrets>(module, "Secrets")
        .def(py::init<const std::string &, const std::string &, const Ordinary &>(), py::keep_alive<1, 4>())
        .def("__call__", [](const Secrets &secrets, const py::bytes &value) { return secrets.accepts(std::string_view(value)); });
    py::class_<Originals>(module, "Originals")
        .def(py::init([](size_t many, const std::vector<std::string> &exempt, const Ordinary &ordinary, size_t share, size_t shares) {
            return std::make_unique<Originals>(
                many, std::unordered_set<std::string>(exempt.begin(), exempt.end()), ordinary, share, shares);
        }))
        .def("add", [](Originals &originals, const py::bytes &packed) { originals.add(packed); })
        .def("close", &Originals::close)
        .def("search", [](const Originals &originals, const py::bytes &buffer) { return places(originals.search(buffer)); })
        .def("search_long", [](const Originals &originals, const py::bytes &buffer) { return places(originals.search_long(buffer)); })
        .def("search_over",
             [](const Originals &originals, const py::bytes &buffer, const Places &joins) {
                 return places(originals.search_over(buffer, joins.all));
             })
        .def_property_readonly("searched", &Originals::searched)
        .def_property_readonly("not_searched", &Originals::not_searched)
        .def_property_readonly("any_blank", &Originals::any_blank)
        .def_readonly("longest", &Originals::longest);
    py::class_<Places>(module, "Places").def("__len__", [](const Places &places) { return places.all.size(); });
    module.def("joined", [](const py::bytes &text, const py::bytes &border) {
        Places joins;
        py::bytes made(Decoder::joined(text, border, joins.all));
        return py::make_tuple(made, std::move(joins));
    });
    module.def("in_base64", [](const py::bytes &text, size_t shortest, const Places *joins) {
        return py::bytes(Decoder::base64(text, shortest, of(joins)));
    }, py::arg("text"), py::arg("shortest"), py::arg("joins") = nullptr);
    module.def("in_hex", [](const py::bytes &text, size_t shortest, const Places *joins) {
        return py::bytes(Decoder::hex(text, shortest, of(joins)));
    }, py::arg("text"), py::arg("shortest"), py::arg("joins") = nullptr);
    module.def("in_numbers", [](const py::bytes &text, const Places *joins) {
        return py::bytes(Decoder::numbers(text, of(joins)));
    }, py::arg("text"), py::arg("joins") = nullptr);
    module.def("in_dumps", [](const py::bytes &text) { return py::bytes(Decoder::dumps(text)); });
    module.def("in_spaced_hex", [](const py::bytes &text, const Places *joins) {
        return py::bytes(Decoder::spaced_hex(text, of(joins)));
    }, py::arg("text"), py::arg("joins") = nullptr);
    module.def("odd_bytes", [](const py::bytes &text) {
        const OddBytes found = odd_bytes(text);
        return py::make_tuple(found.odd, found.nuls);
    });
    module.def("marks_in", [](const py::bytes &text, const Places *joins) {
        return CoatMarks::in(text, of(joins));
    }, py::arg("text"), py::arg("joins") = nullptr);
    module.def("stretches_of", [](const py::bytes &text, unsigned mark, size_t around) {
        return py::bytes(CoatMarks::stretches(text, mark, around));
    });
    py::class_<LineEnds>(module, "LineEnds")
        .def(py::init([](const py::bytes &text) { return std::make_unique<LineEnds>(std::string_view(text)); }), py::keep_alive<1, 2>())
        .def("before", &LineEnds::before)
        .def("shapes", [](const LineEnds &ends) { return shapes_of(ends); })
        .def("wrapped", [](const LineEnds &ends) { return wrapped_ends(ends); });
    py::class_<Shapes>(module, "Shapes")
        .def_readonly("rules", &Shapes::rules)
        .def_readonly("heads", &Shapes::heads)
        .def_property_readonly("labelled",
                               [](const Shapes &shapes) {
                                   py::list made;
                                   for (const Labelled &one : shapes.labelled)
                                       made.append(py::make_tuple(one.label, one.label_end, one.value, one.end));
                                   return made;
                               })
        .def_readonly("puts_rows", &Shapes::puts_rows);
    py::class_<Spans>(module, "Spans")
        .def("__len__", [](const Spans &spans) { return spans.all.size(); })
        // Drop what touches the limit, which may go on behind it; gives the place from which to wait.
        .def("wait", [](Spans &spans, size_t limit, bool never) {
            for (size_t place = 0; place < spans.all.size(); place++) {
                const Found &one = spans.all[place];
                if (one.end < limit) continue;
                if (one.start > 0 || !never) {
                    const size_t start = one.start;
                    spans.all.erase(spans.all.begin() + place, spans.all.end());
                    return start;
                }
                limit = one.end;
            }
            return limit;
        });
    py::class_<Pass>(module, "Pass")
        .def(py::init<std::shared_ptr<Scanner>, std::shared_ptr<Labels>, std::shared_ptr<Legend>, py::object,
                      py::object, py::object, py::object, py::object, std::vector<std::string>>())
        .def("lines", &Pass::lines)
        .def("between", &Pass::between)
        .def("over_lines", &Pass::over_lines)
        .def("verdict", &Pass::verdict)
        .def("known", &Pass::known)
        .def("broken", &Pass::broken)
        .def("listed", &Pass::listed)
        .def_static("spans", &Pass::from)
        .def_static("together", &Pass::together)
        .def_static("outside", &Pass::outside)
        .def("account", &Pass::account)
        .def("compose", &Pass::compose)
        .def("records", &Pass::records)
        .def("take_counts", &Pass::take_counts)
        .def_readonly("wrapped", &Pass::wrapped)
        .def_readonly("dumped", &Pass::dumped)
        .def_readonly("paired", &Pass::paired);
    py::class_<Pattern>(module, "Pattern")
        .def(py::init<const std::string &>())
        .def("is_whole", &Pattern::is_whole)
        .def("count", &Pattern::count);
}
