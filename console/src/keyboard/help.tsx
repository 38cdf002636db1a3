/** All keys, under `?`. */
import { Dialog } from "../components/dialog";
import { Key } from "../components/key";

const HELP: [string, [string, string][]][] = [
  [
    "Everywhere",
    [
      ["/", "find a serial, packet, person"],
      ["n", "note a packet"],
      ["t", "Today"],
      ["p", "Packets"],
      ["a", "Assets"],
      ["c", "Contracts"],
      ["h", "Looking ahead"],
      ["d", "Desks"],
      ["w", "Know-how: articles, known issues, kits"],
      ["i", "Imports"],
      ["?", "this list"],
    ],
  ],
  [
    "In lists",
    [
      ["↑ ↓", "move"],
      ["Enter", "open"],
      ["x", "choose the row"],
      ["e", "change what is chosen"],
      ["m", "merge the two that are chosen"],
      ["l", "print labels of what is chosen"],
      ["+", "add a record"],
    ],
  ],
  [
    "On an asset or a contract",
    [
      ["v", "move the asset"],
      ["o", "take it to another entitlement"],
      ["r", "renew the contract"],
    ],
  ],
  [
    "On order documents and statements",
    [
      ["y", "enter what the order document says"],
      ["o", "ours is right"],
      ["v", "the vendor is right"],
      ["m", "make a packet that asks"],
    ],
  ],
  [
    "On a packet",
    [
      ["1 … 5", "thing, ruling, questions, exhibits, letter"],
      ["j k", "next and previous finding"],
      ["v", "findings by value, or by line"],
      ["u", "let the value go out"],
      ["m", "mask what is selected or drawn"],
      ["PgUp PgDn", "lines, or the page, before and after"],
      ["b", "draw a box on a page; arrows move it"],
      ["+ -", "a page larger, or smaller"],
      ["s", "seal"],
      ["l", "lodge"],
      ["f", "ask the desk for news"],
      ["y", "try now what waits for its desk"],
      ["r", "write to the vendor"],
      ["+", "add files to what you write"],
      ["m", "on the replies: more that can be done with the case"],
      ["k", "collect with a kit"],
      ["o", "open the legend: read the replies in clear"],
    ],
  ],
];

export function KeyHelp({ open, onChange }: { open: boolean; onChange: (open: boolean) => void }) {
  return (
    <Dialog open={open} onChange={onChange} title="Keys" className="p-5">
      <div className="gap-5 sm:columns-2">
        {HELP.map(([group, keys]) => (
          <section key={group} className="mb-4 break-inside-avoid">
            <h3 className="mb-1 text-[14px]">{group}</h3>
            <dl className="grid grid-cols-[64px_1fr] gap-y-1">
              {keys.map(([key, words]) => (
                <div key={words} className="contents">
                  <dt>
                    <Key>{key}</Key>
                  </dt>
                  <dd className="text-soft">{words}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Dialog>
  );
}
