/** Releasing an exhibit after looking at it. */

import { useState } from "react";
import type { Exhibit, useExhibitAct } from "../../api/exhibits";
import { Button } from "../../components/button";
import { ReasonField } from "../../components/reason-field";

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
      <ReasonField inline reason={reason} setReason={setReason} />
      <Button type="submit" disabled={act.isPending}>
        Release
      </Button>
    </form>
  );
}
