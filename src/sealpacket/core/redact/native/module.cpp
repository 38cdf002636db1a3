// What Python sees; _native.pyi says what each call is for.
#include <pybind11/pybind11.h>
#include <pybind11/stl.h>

#include "pass.hpp"
#include "wrapping.hpp"

namespace py = pybind11;
using namespace redact;

namespace {

// A pattern by itself, to measure a bare scan.
class Pattern {
  public:
    explicit Pattern(const std::string &pattern) : made_(compiled(pattern, Scanner::LARGE)) {}

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

  private:
    std::unique_ptr<RE2> made_;
};

}  // namespace

PYBIND11_MODULE(_native, module) {
    module.attr("LEAVE") = Scanner::LEAVE;
    py::class_<Scanner, std::shared_ptr<Scanner>>(module, "Scanner")
        .def(py::init<>())
        .def("add_detector", &Scanner::add_detector)
        .def("add_anchor", &Scanner::add_anchor)
        .def("add_term", &Scanner::add_term)
        .def("add_known", &Scanner::add_known)
        .def("add_family", &Scanner::add_family)
        .def("add_keep", &Scanner::add_keep)
        .def("add_keep_kind", &Scanner::add_keep_kind)
        .def("finish", &Scanner::finish);
    py::class_<Labels, std::shared_ptr<Labels>>(module, "Labels")
        .def(py::init([](const py::bytes &key) { return std::make_shared<Labels>(std::string_view(key)); }))
        .def("of", [](const Labels &labels, const std::string &kind, const py::bytes &canonical) {
            return py::bytes(labels.of(kind, canonical));
        });
    py::class_<Legend, std::shared_ptr<Legend>>(module, "Legend")
        .def(py::init<>())
        .def("add", [](Legend &legend, const py::bytes &placeholder, const py::bytes &original) {
            legend.add(placeholder, original);
        })
        .def("pairs",
             [](const Legend &legend) {
                 py::list made;
                 for (size_t number = 0; number < legend.size(); number++) {
                     const auto [placeholder, original] = legend.pair(number);
                     made.append(py::make_tuple(py::bytes(placeholder.data(), placeholder.size()),
                                                py::bytes(original.data(), original.size())));
                 }
                 return made;
             })
        .def("packed", [](const Legend &legend) { return py::bytes(legend.packed()); })
        .def("unpack", [](Legend &legend, const py::bytes &packed) { legend.unpack(packed); })
        .def("__len__", &Legend::size);
    module.def("wrapped_ends", [](const py::bytes &buffer) { return wrapped_ends(buffer); });
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
        .def("listed", &Pass::listed)
        .def_static("spans", &Pass::from)
        .def("account", &Pass::account)
        .def("compose", &Pass::compose)
        .def("records", &Pass::records)
        .def_static("line_ends", &Pass::line_ends)
        .def("take_counts", &Pass::take_counts)
        .def_readonly("wraps", &Pass::wraps);
    py::class_<Pattern>(module, "Pattern")
        .def(py::init<const std::string &>())
        .def("count", &Pattern::count);
}
