import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { NoAnswer, whoAmI } from "./api/client";
import { App } from "./App";
import { fetchPlace } from "./Places";
import { applyLook } from "./ui/look";
import "./styles.css";

applyLook();
const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 4_000,
      // A service that restarts is back within seconds; what it refuses stays refused.
      retry: (count, error) => error instanceof NoAnswer && count < 4,
      retryDelay: (count) => Math.min(500 * 2 ** count, 4_000),
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});
// Who it is and the code of the place come at the same time.
void queries.prefetchQuery({ queryKey: ["session"], queryFn: whoAmI });
fetchPlace(window.location.pathname);
const root = document.getElementById("root");
if (!root) throw new Error("the page has no root");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
