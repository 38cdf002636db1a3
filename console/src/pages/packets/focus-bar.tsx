/** The finding one looks at, and what can be decided about it. */

import type { MouseEvent } from "react";
import { Button, TextButton } from "../../components/button";
import { Key } from "../../components/key";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";
import type { LookProps } from "./look";
import type { LinesReview } from "./use-lines-review";

/** A press on a button would take the selection away before it is asked for. */
const keepSelection = (event: MouseEvent) => event.preventDefault();

export function FocusBar({ place, setPlace, mayDecide, looking }: LookProps & { looking: LinesReview }) {
  const { focus, selected, mask, floor, letGo } = looking;
  return (
    <div className="flex min-h-9 flex-wrap items-center gap-x-3 border-b border-line px-3.5 py-1">
      {focus && (
        <>
          <Soft as="span">{focus.kind}</Soft>
          <Mono className="max-w-96 truncate">{focus.value.split("\n")[0]}</Mono>
          {!focus.sure && <span className="text-ochre">not certain</span>}
          {place.placeholder && (
            <TextButton onClick={() => setPlace({ ...place, placeholder: "", kind: "", at: 0, line: 0 })}>
              All findings again
            </TextButton>
          )}
          {mayDecide && (
            <Row as="span" gap={2} push>
              <Button className="px-1.5 py-0" disabled={!selected} onMouseDown={keepSelection} onClick={mask}>
                <Key>M</Key> Mask what is selected
              </Button>
              <Button className="px-1.5 py-0" disabled={floor.includes(focus.kind)} onClick={letGo}>
                <Key>U</Key> {floor.includes(focus.kind) ? "Never goes out" : "Let it go out"}
              </Button>
            </Row>
          )}
        </>
      )}
    </div>
  );
}
