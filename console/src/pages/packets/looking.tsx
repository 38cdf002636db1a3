/** What looking at lines and looking at pages share: going from one finding to the next, and saying why. */
import { Button } from "../../components/button";
import { Key } from "../../components/key";

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
        <span className="sr-only">{what} before</span>
      </Button>
      <Button className="px-1.5 py-0" disabled={last} onClick={() => step(1)}>
        <Key>J</Key>
        <span aria-hidden>↓</span>
        <span className="sr-only">Next {what.toLowerCase()}</span>
      </Button>
    </>
  );
}

export function Why({ reason, setReason }: { reason: string; setReason: (reason: string) => void }) {
  return (
    <label>
      <span className="mb-1 block text-soft">Why? The custody log keeps it.</span>
      <input
        className="field"
        required
        minLength={3}
        maxLength={400}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
    </label>
  );
}
