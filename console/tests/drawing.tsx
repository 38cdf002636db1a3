/** Drawing a part of the console, and pressing keys as its users do. */

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { type ReactNode, useState } from "react";

/** Draw it at an address; gives somebody who types and clicks, and the cache of what was read. */
export function draw(element: ReactNode, at = "/") {
  window.history.replaceState(null, "", at);
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false }, mutations: { retry: false } } });
  const inside = (one: ReactNode) => <QueryClientProvider client={cache}>{one}</QueryClientProvider>;
  const { rerender, unmount } = render(inside(element));
  return { user: userEvent.setup(), cache, unmount, redraw: (one: ReactNode) => rerender(inside(one)) };
}

/** What a hook of the API is used in, with a cache of its own. */
export function Inside({ children }: { children: ReactNode }) {
  const [cache] = useState(() => new QueryClient({ defaultOptions: { mutations: { retry: false } } }));
  return <QueryClientProvider client={cache}>{children}</QueryClientProvider>;
}

/** Where the address bar stands. */
export const where = () => window.location.pathname + window.location.search;
