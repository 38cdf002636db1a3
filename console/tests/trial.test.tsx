// @vitest-environment happy-dom
import { screen, waitFor } from "@testing-library/react";
import { expect, test } from "vitest";
import { Trial } from "../src/pages/desks/trial";
import { draw } from "./drawing";
import { callsTo, service } from "./service";

const step = (act: string, ok: boolean | null, sentence: string) => ({ act, ok, sentence, said: "" });

test("a trial has the sheet read what the desk has really said, and says what it did not understand", async () => {
  const steps = [step("lodge", true, "The case arrived."), step("read 422-error.json", false, "Nothing is in it.")];
  service({
    "POST /api/v1/desks/trials": {
      ...{ id: "t1", done: true, status_text: "It fails: read 422-error.json.", reference: null },
      ...{ steps, refusals: [], cases: 1, sent: null },
    },
  });
  const { user } = draw(<Trial text="sheet: 2" seed={3} need="fault" />);
  const file = new File(['{"errors": []}'], "422-error.json");
  await user.upload(screen.getByLabelText("Recorded replies"), file);
  expect(screen.getByText(/It has to understand 422-error.json/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Try" }));
  await screen.findByText("It fails: read 422-error.json.");
  expect(callsTo("POST /api/v1/desks/trials")[0]?.body).toEqual({
    ...{ yaml: "sheet: 2", asset: "", need: "fault", seed: 3 },
    recorded: [{ name: "422-error.json", text: '{"errors": []}' }],
  });
  await waitFor(() => expect(screen.getByRole("list", { name: "Acts of the trial" }).textContent).toContain("✗"));
});
