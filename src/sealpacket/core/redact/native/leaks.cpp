// What Python sees of the legend, of the leak check and of how lines are put together; see module.cpp.
#include <pybind11/pybind11.h>
#include <pybind11/stl.h>

#include "bared.hpp"
#include "coats.hpp"
#include "legend.hpp"
#include "ordinary.hpp"
#include "originals.hpp"
#include "wrapping.hpp"

namespace py = pybind11;
using namespace redact;

namespace {

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

void add_leak_check(py::module_ &module) {
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
}
