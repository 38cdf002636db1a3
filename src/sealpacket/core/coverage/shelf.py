"""All entitlements of a vendor, sorted so that the few that concern one thing are found without reading them all."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from datetime import date

from sealpacket.core.coverage.model import Basis, Candidate, Need, Question, Ruling, Thing
from sealpacket.core.coverage.ruling import nearness, rule, would_list


class Shelf:
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
                (self._by_serial, named), (self._by_product, candidate.products), (self._by_model, candidate.models)
            ):  # fmt: skip
                for name in names:
                    index[name].append(place)
            if candidate.everything:
                self._general.append(place)

    def for_thing(self, thing: Thing, day: date, need: Need) -> tuple[Candidate, ...]:
        """The candidates that concern the thing, with only the serials that matter to it; and the best near one.

        A ruling made from these is the ruling made from all.
        """
        found: dict[int, list[str]] = {place: [] for place in self._general}
        for serial in ([thing.serial] if thing.serial else []) + [carrier.serial for carrier in thing.carriers]:
            for place in self._by_serial.get(serial, ()):
                found.setdefault(place, []).append(serial)
        for product in [thing.product, *(carrier.product for carrier in thing.carriers)]:
            for place in self._by_product.get(product, ()):
                found.setdefault(place, [])
        near = next((place for place in self._nearest(thing.product, day, need) if place not in found), None)
        chosen = [self._narrowed(place, serials) for place, serials in found.items()]
        if near is not None:
            chosen.append(self._narrowed(near, []))
        return tuple(chosen)

    def basis(self, question: Question, thing: Thing) -> Basis:
        """All that the ruling on a thing is made from."""
        return Basis(question=question, thing=thing, candidates=self.for_thing(thing, question.day, question.need))

    def rule(self, question: Question, thing: Thing) -> Ruling:
        """The ruling on a thing."""
        return rule(question, thing, self.for_thing(thing, question.day, question.need))

    def _narrowed(self, place: int, serials: list[str]) -> Candidate:
        candidate = self._all[place]
        if len(candidate.serials) + len(candidate.listings) == len(serials):
            return candidate
        listings = tuple(listing for listing in candidate.listings if listing.serial in serials)
        dated = {listing.serial for listing in listings}
        kept = tuple(serial for serial in serials if serial not in dated or serial in candidate.serials)
        return candidate.model_copy(update={"serials": kept, "listings": listings})

    def _nearest(self, model: str, day: date, need: Need) -> list[int]:
        """Entitlements that run on the day, serve the need and list serials of this model: the best first."""
        key = (model, day, need)
        if key not in self._near:
            of_model = self._by_model.get(model, ())
            running = [place for place in of_model if would_list(self._all[place], day, need)]
            self._near[key] = sorted(running, key=lambda place: nearness(self._all[place]))
        return self._near[key]
