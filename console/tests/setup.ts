/** What every test of the console begins with: React that can be waited for, and no service but the one the test plays. */

import { cleanup, configure } from "@testing-library/react";
import { afterEach } from "vitest";
import { forget } from "./service";
import { giveStreams } from "./streams";

configure({ asyncUtilTimeout: 30_000 }); // machines are slow when much else is tested

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });

giveStreams();

afterEach(() => {
  if (typeof document === "undefined") return;
  cleanup();
  sessionStorage.clear();
  forget();
});
