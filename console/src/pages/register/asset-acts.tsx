/** What one does with an asset: move it, and take it to another entitlement. */

import { useState } from "react";
import type { Asset } from "../../api/assets";
import { Button } from "../../components/button";
import type { FieldSpec } from "../../components/field-values";
import { today } from "../../format/dates";
import { useKeys } from "../../keyboard/keys";
import { DatedDialog } from "./dated-dialog";

const MOVE: FieldSpec[] = [
  { name: "from_on", title: "From", kind: "day", needed: true },
  { name: "site", title: "At", kind: "site" },
  { name: "status", title: "State", kind: ["ordered", "in_use", "spare", "repair", "retired"] },
];

const TRANSFER: FieldSpec[] = [
  { name: "from_on", title: "From", kind: "day", needed: true },
  { name: "out_of", title: "Off", kind: "mono", needed: true, hint: "an entitlement's reference" },
  { name: "into", title: "Onto", kind: "mono", needed: true, hint: "an entitlement's reference" },
];

export function AssetActs({ asset, listed }: { asset: Asset; listed: string }) {
  const [open, setOpen] = useState<"move" | "transfer" | null>(null);
  useKeys("asset", { move: () => setOpen("move"), transfer: () => setOpen("transfer") });
  const shared = { plural: "assets", record: asset, onClose: () => setOpen(null) };
  return (
    <>
      <Button letter="v" onClick={() => setOpen("move")}>
        Move
      </Button>
      <Button letter="o" onClick={() => setOpen("transfer")}>
        Other entitlement
      </Button>
      {open === "move" && (
        <DatedDialog
          {...shared}
          title={`Move ${asset.serial}`}
          act="move"
          fields={MOVE}
          values={{ from_on: today(), site: asset.site, status: asset.status }}
          words="Move it"
          note="Where it was before stays known, and so does what covered it there."
        />
      )}
      {open === "transfer" && (
        <DatedDialog
          {...shared}
          title={`Take ${asset.serial} to another entitlement`}
          act="transfer"
          fields={TRANSFER}
          values={{ from_on: today(), out_of: listed, into: "" }}
          words="Take it there"
          note="Until the day before it stays listed where it is."
        />
      )}
    </>
  );
}
