import "@fontsource-variable/source-sans-3/index.css";
import "@fontsource-variable/jetbrains-mono/index.css";
import "@mantine/core/styles.css";
import "@mantine/spotlight/styles.css";
import "./tokens.css";
import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { api } from "./api/client";
import { learnCommands } from "./commands/commands";
import { PartListPage } from "./pages/PartListPage";
import { learnKinds } from "./state/fields";
import { later } from "./ui/later";
import { cssVariables, theme } from "./theme";

const AHEAD_MS = 400; // after the list stands

/**
 * The editor and what is drawn in space are not needed for the list: they come beside it, or first where a part is
 * opened at once.
 */
const EditorPage = later<object>(() => import("./pages/EditorPage"));
const ShelfPage = later<object>(() => import("./pages/ShelfPage").then((m) => ({ default: m.ShelfPage })));
const ahead = () => Promise.all([EditorPage.ahead(), import("./stage/Stage")]);
if (window.location.pathname.startsWith("/part/")) void ahead();
else window.addEventListener("load", () => setTimeout(() => void ahead(), AHEAD_MS));

const client = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });
const root = createRoot(document.getElementById("root")!);

/** The page; with another `generation` it is made anew, as kinds of step are known then that were not before. */
function paint(generation: number): void {
  learnCommands();
  root.render(
    <StrictMode>
      <MantineProvider key={generation} theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="light">
        <QueryClientProvider client={client}>
          <BrowserRouter>
            <Routes>
              <Route path="/" element={<PartListPage />} />
              <Route path="/shelf" element={<ShelfPage />} />
              <Route path="/part/:id" element={<EditorPage />} />
            </Routes>
          </BrowserRouter>
        </QueryClientProvider>
      </MantineProvider>
    </StrictMode>,
  );
}

// The kinds that this program was made with are known at once. A server may have others.
paint(0);
void api.kinds().then(
  (told) => {
    if (learnKinds(told)) paint(1);
  },
  () => undefined,
);
