/** Status words that the desk said and the sheet does not list, each put into the text by one step. */

import { Button } from "../../components/button";
import { Mono } from "../../components/mono";

interface Props {
  unlisted: { word: string; packets: string[] }[];
  put: (word: string) => void;
}

export function Unlisted({ unlisted, put }: Props) {
  return unlisted.map((one) => (
    <div
      key={one.word}
      className="mb-2 flex flex-wrap items-baseline gap-x-3 gap-y-1 rounded-md border-l-3 border-ochre bg-sheet px-3 py-2"
    >
      <span>
        The desk says <Mono>{one.word}</Mono> of{" "}
        {one.packets.map((number, place) => (
          <span key={number}>
            {place > 0 && ", "}
            <a className="link" href={`/packets/${number}/replies`}>
              {number}
            </a>
          </span>
        ))}
        , which the sheet does not list.
      </span>
      <Button onClick={() => put(one.word)}>Put it in</Button>
    </div>
  ));
}
