// What Python sees; _native.pyi says what each call is for.
#include <pybind11/functional.h>
#include <pybind11/pybind11.h>
#include <pybind11/stl.h>

#include "scan.hpp"

namespace py = pybind11;
using namespace evidence;

namespace {

py::bytes as_bytes(const std::string &text) { return py::bytes(text); }

// What Python read in a line: (moment, start, end, lead, after, ends, base, digits, separator).
// A separator is there if the time is told by its day.
std::optional<std::pair<Time, std::optional<Minute>>> read_by(const py::function &read, std::string_view line) {
    const py::object said = read(py::bytes(line.data(), line.size()));
    if (said.is_none()) return std::nullopt;
    const auto row = said.cast<py::tuple>();
    const Time time{row[0].cast<int64_t>(), row[1].cast<size_t>(), row[2].cast<size_t>()};
    if (time.end > line.size() || time.start > time.end) throw py::value_error("a time outside its line");
    auto lead = row[3].cast<std::string>();
    if (lead.empty()) return std::make_pair(time, std::nullopt);
    const bool is_day = !row[8].is_none();
    const auto separator = is_day ? row[8].cast<std::string>() : std::string();
    return std::make_pair(time, std::optional<Minute>(Minute{
                                    std::move(lead), row[4].cast<std::string>(), row[5].cast<bool>(),
                                    row[6].cast<int64_t>(), row[7].cast<int>(), is_day,
                                    separator.empty() ? '\0' : separator[0]}));
}

py::list rows_of(const Scan &scan) {
    py::list rows;
    for (const auto &one : scan.messages)
        rows.append(py::make_tuple(as_bytes(one->skeleton), one->count, one->octets, one->first, one->last, one->level,
                                   as_bytes(one->example), as_bytes(one->last_example), one->moments, one->buckets));
    return rows;
}

py::list skeletons_of(const Scan &scan) {
    py::list rows;
    for (const auto &one : scan.messages) rows.append(py::make_tuple(as_bytes(one->skeleton), one->count));
    return rows;
}

py::list steps_of(const std::vector<Step> &steps) {
    py::list rows;
    for (const Step &one : steps) rows.append(py::make_tuple(one.from, one.to, one.line));
    return rows;
}

}  // namespace

PYBIND11_MODULE(_native, module) {
    module.attr("BUCKETS") = BUCKETS;
    module.attr("FINE") = FINE;
    module.def(
        "skeleton",
        [](const py::bytes &message, const py::bytes &before) {
            const std::string_view text = message, begin = before;
            return as_bytes(std::string(Skeleton().of(begin, text, (begin.empty() ? text : begin).starts_with('{'))));
        },
        py::arg("message"), py::arg("before") = py::bytes());
    py::class_<Scan>(module, "Scan")
        .def(py::init([](int64_t first, int64_t last, size_t reach, size_t most, const std::vector<std::string> &zones,
                         const std::vector<std::string> &known, py::function read, py::function judge,
                         py::function merge) {
                 return std::make_unique<Scan>(
                     first, last, reach, most, zones, known,
                     [read](std::string_view line) { return read_by(read, line); },
                     [judge](std::string_view skeleton, std::string_view example) {
                         return judge(py::bytes(skeleton.data(), skeleton.size()), py::bytes(example.data(), example.size()))
                             .cast<std::pair<int, bool>>();
                     },
                     [merge](Scan &scan) { scan.regroup(merge(skeletons_of(scan)).cast<std::vector<std::string>>()); });
             }),
             py::arg("first"), py::arg("last"), py::arg("reach"), py::arg("most"), py::arg("zones"), py::arg("known"),
             py::arg("read"), py::arg("judge"), py::arg("merge"))
        .def("feed", [](Scan &scan, const py::bytes &data) { scan.feed(std::string_view(data)); })
        .def("finish", &Scan::finish)
        .def("regroup", &Scan::regroup)
        .def("skeletons", &skeletons_of)
        .def("messages", &rows_of)
        .def("gaps", [](const Scan &scan) { return steps_of(scan.gaps); })
        .def("back", [](const Scan &scan) { return steps_of(scan.back); })
        .def("known", [](const Scan &scan) {
            py::list rows;
            for (const Known &one : scan.known)
                rows.append(py::make_tuple(one.count, one.first, one.last, as_bytes(one.example)));
            return rows;
        })
        .def_property_readonly("moment", &Scan::moment)
        .def_readonly("levels", &Scan::levels)
        .def_readonly("lines", &Scan::lines)
        .def_readonly("untimed", &Scan::untimed)
        .def_readonly("octets", &Scan::octets)
        .def_readonly("asked", &Scan::asked)
        .def_readonly("outside", &Scan::outside)
        .def_readonly("too_long", &Scan::too_long)
        .def_readonly("steps_back", &Scan::steps_back)
        .def_property_readonly("earliest", [](const Scan &scan) { return scan.earliest; })
        .def_property_readonly("latest", [](const Scan &scan) { return scan.latest; });
}
