/** Hours of entitlements that say how much is covered, but not when: said once for all that have them. */

import { useState } from "react";
import { type UnreadHours as Unread, useConvertHours, useUnreadHours } from "../../api/hours";
import { Button } from "../../components/button";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";

export function UnreadHours({ mayEdit }: { mayEdit: boolean }) {
  const unread = useUnreadHours(mayEdit);
  if (!unread.data?.length) return null;
  return (
    <details className="mb-3 rounded-md border border-line px-3 py-2">
      <summary className="cursor-pointer">
        {unread.data.length === 1 ? "One kind of hours does" : `${unread.data.length} kinds of hours do`} not say when;
        promises count in the hours of the desk
      </summary>
      {unread.data.map((one) => (
        <Line key={one.text} unread={one} />
      ))}
    </details>
  );
}

function Line({ unread }: { unread: Unread }) {
  const [hours, setHours] = useState("");
  const convert = useConvertHours();
  return (
    <form
      className="mt-2"
      onSubmit={(event) => {
        event.preventDefault();
        convert.mutate({ text: unread.text, hours });
      }}
    >
      <Row gap={3} lines align="baseline">
        <Mono className="w-24">{unread.text}</Mono>
        <span className="w-28 text-soft">
          {unread.entitlements} {unread.entitlements === 1 ? "entitlement" : "entitlements"}
        </span>
        <input
          className="field w-72"
          aria-label={`Hours meant by ${unread.text}`}
          placeholder="Mo–Fr 08:30–17:00"
          value={hours}
          onChange={(event) => setHours(event.target.value)}
        />
        <Button type="submit" disabled={convert.isPending || hours.trim() === ""}>
          Convert
        </Button>
      </Row>
      <ProblemNote problem={convert.error} />
    </form>
  );
}
