/** The passcode of a contract: kept encrypted, shown on request. */

import { useContractPasscode } from "../../api/contracts";
import { TextButton } from "../../components/button";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";

export function Passcode({ handle, roles }: { handle: string; roles: string[] }) {
  const reveal = useContractPasscode(handle);
  if (reveal.data) return <Mono>{reveal.data}</Mono>;
  if (!roles.includes("keeper") && !roles.includes("preparer")) return "kept, encrypted";
  return (
    <>
      kept, encrypted ·{" "}
      <TextButton onClick={() => reveal.mutate()} title="The custody log keeps that you asked">
        show
      </TextButton>
      <ProblemNote problem={reveal.error} />
    </>
  );
}
