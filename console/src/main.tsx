import "./styles.css";
import { MutationCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { ProblemError } from "./api/client";
import { App } from "./app";
import { STYLE_NONCE } from "./components/nonce";
import { applyTheme } from "./frame/theme";

applyTheme();

setNonce(STYLE_NONCE);

const cache: QueryClient = new QueryClient({
  /** What was refused because it has changed is read again, so that the change can be seen. */
  mutationCache: new MutationCache({
    onError: (error) => {
      if (error instanceof ProblemError && error.code === "stale") cache.invalidateQueries();
    },
  }),
  defaultOptions: {
    queries: {
      staleTime: 2_000,
      retry: (times, error) =>
        times < 2 && error instanceof ProblemError && (error.status === 0 || error.status === 503),
    },
  },
});

const root = document.getElementById("root");

if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={cache}>
        <App />
      </QueryClientProvider>
    </StrictMode>,
  );
}
