"""All entitlements of a vendor, sorted so that the few that concern one thing are found without reading them all."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from datetime import date

from sealpacket.core.coverage.model import Basis, Candidate, Need, Question, Ruling, Thing
from sealpacket.core.coverage.ruling import nearness, rule, would_list

_SHORT = 64


class CandidateIndex:
    """Candidates by the serials and products that they name: a thing gets what its ruling needs, and no more."""

    def __init__(self, candidates: Iterable[Candidate]) -> None:
        self._all = tuple(candidates)
        self._by_serial: defaultdict[str, list[int]] = defaultdict(list)
        self._by_product: defaultdict[str, list[int]] = defaultdict(list)
        self._by_model: defaultdict[str, list[int]] = defaultdict(list)
        self._general: list[int] = []
        self._near: dict[tuple[str, date, Need], list[int]] = {}
        for place, candidate in enumerate(self._all):
            named = {*candidate.serials, *(listing.serial for listing in candidate.listings)}
            for index, names in (
                (self._by_serial, named),
                (self._by_product, candidate.products),
                (self._by_model, candidate.models),
            ):
                for name in names:
                    index[name].append(place)
            if candidate.everything:
                self._general.append(place)

    def for_thing(self, thing: Thing, day: date, need: Need) -> tuple[Candidate, ...]:
        """The candidates that concern the thing, with only the serials that matter to it; and the best near one.

        A ruling made from these is the ruling made from all.
        """
        found = self._found(thing)
        near = self._near_one(thing, day, need, found)
        concerned = [self._narrowed(place, serials) for place, serials in found.items()]
        return (*concerned, *(self._narrowed(place, []) for place in near))

    def basis(self, question: Question, thing: Thing) -> Basis:
        """All that the ruling on a thing is made from."""
        return Basis(
            question=question,
            thing=thing,
            candidates=self.for_thing(thing, question.day, question.need),
        )

    def concerned(self, thing: Thing) -> tuple[Candidate, ...]:
        """The candidates that concern the thing; short lists of serials as they are."""
        return tuple(
            self._all[place]
            if len(self._all[place].serials) <= _SHORT
            else self._narrowed(place, serials)
            for place, serials in self._found(thing).items()
        )

    def rule(
        self, question: Question, thing: Thing, concerned: tuple[Candidate, ...] | None = None
    ) -> Ruling:
        """The ruling on a thing. What lies near is looked for only where nothing covers it."""
        candidates = self.concerned(thing) if concerned is None else concerned
        ruling = rule(question, thing, candidates)
        if ruling.route not in ("none", "paid"):
            return ruling
        near = self._near_one(thing, question.day, question.need, self._found(thing))
        return (
            rule(question, thing, (*candidates, *(self._narrowed(place, []) for place in near)))
            if near
            else ruling
        )

    def _found(self, thing: Thing) -> dict[int, list[str]]:
        """The places of what concerns the thing, with the serials by which it does."""
        found: dict[int, list[str]] = {place: [] for place in self._general}
        for serial in ([thing.serial] if thing.serial else []) + [
            carrier.serial for carrier in thing.carriers
        ]:
            for place in self._by_serial.get(serial, ()):
                found.setdefault(place, []).append(serial)
        for product in [thing.product, *(carrier.product for carrier in thing.carriers)]:
            for place in self._by_product.get(product, ()):
                found.setdefault(place, [])
        return found

    def _near_one(
        self, thing: Thing, day: date, need: Need, found: dict[int, list[str]]
    ) -> list[int]:
        return [place for place in self._nearest(thing.product, day, need) if place not in found][
            :1
        ]

    def _narrowed(self, place: int, serials: list[str]) -> Candidate:
        candidate = self._all[place]
        if len(candidate.serials) + len(candidate.listings) == len(serials):
            return candidate
        listings = tuple(listing for listing in candidate.listings if listing.serial in serials)
        dated = {listing.serial for listing in listings}
        kept = tuple(
            serial for serial in serials if serial not in dated or serial in candidate.serials
        )
        return candidate.model_copy(update={"serials": kept, "listings": listings})

    def _nearest(self, model: str, day: date, need: Need) -> list[int]:
        """Entitlements that run on the day, serve the need and list serials of this model: the best first."""
        key = (model, day, need)
        if key not in self._near:
            of_model = self._by_model.get(model, ())
            running = [place for place in of_model if would_list(self._all[place], day, need)]
            self._near[key] = sorted(running, key=lambda place: nearness(self._all[place]))
        return self._near[key]
