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
import { EditorPage } from "./pages/EditorPage";
import { PartListPage } from "./pages/PartListPage";
import { learnKinds } from "./state/fields";
import { cssVariables, theme } from "./theme";

const kinds = api.kinds().then(learnKinds, () => undefined); // without an answer those that it was made with are known
const client = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });

void kinds.then(learnCommands).then(() =>
  createRoot(document.getElementById("root")!).render(
    <StrictMode>
      <MantineProvider theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="light">
        <QueryClientProvider client={client}>
          <BrowserRouter>
            <Routes>
              <Route path="/" element={<PartListPage />} />
              <Route path="/part/:id" element={<EditorPage />} />
            </Routes>
          </BrowserRouter>
        </QueryClientProvider>
      </MantineProvider>
    </StrictMode>,
  ),
);
