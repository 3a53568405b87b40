import "@fontsource-variable/figtree";
import "@fontsource/gelasio/400.css";
import "@fontsource/gelasio/600.css";
import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { Application } from "./Application";
import { followColourScheme, system } from "./theme/theme";

followColourScheme();
const queries = new QueryClient({ defaultOptions: { queries: { retry: false, refetchOnWindowFocus: true } } });
const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <ChakraProvider value={system}>
      <QueryClientProvider client={queries}>
        <Application />
      </QueryClientProvider>
    </ChakraProvider>,
  );
}
