// What Python sees of the search; _native.pyi says what each call is for. What it sees of the legend and of the leak check
// is in leaks.cpp: as one unit, compiling takes more than a gigabyte.
#include <pybind11/pybind11.h>
#include <pybind11/stl.h>

#include "pass.hpp"

namespace py = pybind11;
using namespace redact;

void add_leak_check(py::module_ &module);

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

    // Where the values of its matches lie, one behind the other: the group, or the whole match where there is none.
    std::vector<std::pair<size_t, size_t>> values(const py::bytes &buffer) const {
        const std::string_view text = buffer;
        const int group = std::min(made_->NumberOfCapturingGroups(), 1);
        re2::StringPiece hits[2];
        std::vector<std::pair<size_t, size_t>> found;
        for (size_t pos = 0; pos <= text.size() && made_->Match(piece(text), pos, text.size(), RE2::UNANCHORED, hits, 1 + group);) {
            const re2::StringPiece &value = hits[group];
            if (value.data()) found.emplace_back(value.data() - text.data(), value.data() - text.data() + value.size());
            pos = hits[0].data() - text.data() + std::max<size_t>(hits[0].size(), 1);
        }
        return found;
    }
    int groups() const { return made_->NumberOfCapturingGroups(); }

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

    size_t shares() const { return anchors_.shares(); }
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
    SharedAnchors anchors_;
};

}  // namespace

PYBIND11_MODULE(_native, module) {
    add_leak_check(module);
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
        .def_property_readonly("shares", &NumberedAnchors::shares)
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
    py::class_<Ordinary>(module, "Ordinary")
        .def(py::init<const std::vector<std::string> &>())
        .def("has", [](const Ordinary &ordinary, const py::bytes &text) { return ordinary.has(std::string_view(text)); });
    py::class_<Secrets>(module, "Secrets")
        .def(py::init<const std::string &, const std::string &, const Ordinary &>(), py::keep_alive<1, 4>())
        .def("__call__", [](const Secrets &secrets, const py::bytes &value) { return secrets.accepts(std::string_view(value)); });
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
        .def("count", &Pattern::count)
        .def("values", &Pattern::values)
        .def_property_readonly("groups", &Pattern::groups);
}
