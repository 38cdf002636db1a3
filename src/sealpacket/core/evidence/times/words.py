"""Names of months, days and zones in log times."""

from __future__ import annotations

_MONTHS = (
    "january januar janvier enero januari jan janv ene",
    "february februar février fevrier febrero februari feb fév févr fevr",
    "march märz maerz mars marzo maart mar mär mrz mrt",
    "april avril abril apr avr abr",
    "may mai mayo mei may",
    "june juni juin junio jun",
    "july juli juillet julio jul juil",
    "august août aout agosto augustus aug aoû ago",
    "september septembre septiembre setiembre sep sept set",
    "october oktober octobre octubre oct okt",
    "november novembre noviembre nov",
    "december dezember décembre decembre diciembre dec dez déc dic",
)
MONTHS: dict[str, int] = {
    name: number for number, names in enumerate(_MONTHS, 1) for name in names.split()
}
"""The number of a month by its name, whole or short, in English, German, French, Spanish and Dutch; in lower case."""

ZONES: dict[str, int] = {
    "Z": 0, "UTC": 0, "GMT": 0, "UT": 0, "WET": 0, "WEST": 60, "BST": 60, "CET": 60, "MEZ": 60, "CEST": 120,
    "MESZ": 120, "EET": 120, "EEST": 180, "MSK": 180, "EST": -300, "EDT": -240, "CDT": -300, "MST": -420, "MDT": -360,
    "PST": -480, "PDT": -420, "AKST": -540, "AKDT": -480, "HST": -600, "JST": 540, "KST": 540, "AEST": 600,
    "AEDT": 660, "ACST": 570, "AWST": 480, "NZST": 720, "NZDT": 780, "SGT": 480, "HKT": 480, "CST": -360, "IST": 330,
}  # fmt: skip
"""Minutes east of UTC by the abbreviation of a zone. Those that several zones share are in DOUBTFUL_ZONES."""
DOUBTFUL_ZONES = frozenset({"CST", "IST", "BST"})
