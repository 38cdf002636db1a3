/** Releasing an exhibit after looking at it. */

import { useState } from "react";
import type { Exhibit, useExhibitAct } from "../../api/exhibits";
import { Button } from "../../components/button";

export function Release({ exhibit, act }: { exhibit: Exhibit; act: ReturnType<typeof useExhibitAct> }) {
  const [reason, setReason] = useState("");
  return (
    <form
      className="mt-3 flex gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        act.mutate({ act: "release", name: exhibit.name, reason });
      }}
    >
      <input
        className="field"
        aria-label="Reason for letting it go out"
        placeholder="Why it may go out as it is"
        minLength={3}
        required
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Button type="submit" disabled={act.isPending}>
        Release
      </Button>
    </form>
  );
}
