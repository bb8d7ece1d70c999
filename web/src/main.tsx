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
import { EditorPage } from "./pages/EditorPage";
import { PartListPage } from "./pages/PartListPage";
import { cssVariables, theme } from "./theme";

const client = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });

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
);
