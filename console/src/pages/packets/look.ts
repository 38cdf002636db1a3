/** Where a person is in an exhibit. */
import type { Exhibit } from "../../api/exhibits";
import type { Packet } from "../../api/packets";
import type { Looking } from "../../api/reviews";

/** Kept while the exhibit is redacted again. */
export interface Place extends Looking {
  view: "lines" | "values";
  /** Of a picture or PDF, from 1, and how much larger than its pane it is shown. */
  page: number;
  zoom: number;
}

export const FIRST: Place = { at: 0, kind: "", placeholder: "", line: 0, view: "lines", page: 1, zoom: 1 };

export interface LookProps {
  packet: Packet;
  exhibit: Exhibit;
  place: Place;
  setPlace: (place: Place) => void;
  mayDecide: boolean;
}
