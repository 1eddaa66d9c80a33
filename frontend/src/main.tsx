import "./theme.css";
import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { ApiError } from "./api/client";
import { router } from "./routes";
import { beginOutbox } from "./shell/outbox/useOutbox";
import { applyTheme } from "./shell/theme";
import { keepFocus } from "./ui/focus";
import "./ui/say";
import { pointer } from "./ui/pointer";

applyTheme();

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      networkMode: "always",
      // A failing server is asked again as one that does not answer: what was refused would be refused once more.
      retry: (failures, error) =>
        failures < 2 && error instanceof ApiError && (error.status === 0 || error.status >= 500),
    },
    mutations: { networkMode: "always" },
  },
});

// An answer that comes while something is pressed is shown when that is done.
notifyManager.setScheduler((notify) => pointer.whenUp(() => setTimeout(notify, 0)));

beginOutbox(client);
keepFocus(document.body);
pointer.follow(window);

const root = document.getElementById("root");
if (!root) throw new Error("index.html has no root");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <Tooltip.Provider delayDuration={250}>
        <RouterProvider router={router} />
      </Tooltip.Provider>
    </QueryClientProvider>
  </StrictMode>,
);
