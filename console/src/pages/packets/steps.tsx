/** Going from one finding to the next. */

import { Button } from "../../components/button";
import { Key } from "../../components/key";
import { Hidden } from "../../components/text";

interface StepsProps {
  /** What one goes through: finding, box. */
  what: string;
  first: boolean;
  last: boolean;
  step: (by: number) => void;
}

export function Steps({ what, first, last, step }: StepsProps) {
  return (
    <>
      <Button className="px-1.5 py-0" disabled={first} onClick={() => step(-1)}>
        <Key>K</Key>
        <span aria-hidden>↑</span>
        <Hidden>{what} before</Hidden>
      </Button>
      <Button className="px-1.5 py-0" disabled={last} onClick={() => step(1)}>
        <Key>J</Key>
        <span aria-hidden>↓</span>
        <Hidden>Next {what.toLowerCase()}</Hidden>
      </Button>
    </>
  );
}
