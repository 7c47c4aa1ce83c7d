import { ChakraProvider } from "@chakra-ui/react";
import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import "@fontsource/fraunces/400-italic.css";
import "@fontsource/fraunces/600-italic.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { queryClient } from "./api/queries";
import { App } from "./app/App";
import { startSelection } from "./store/look";
import { startPlaces } from "./store/places";
import { startPreviews } from "./store/previews";
import { startSnapshots } from "./store/snapshots";
import { startTimeView } from "./store/timeView";
import { startValues } from "./store/values";
import { system } from "./ui/theme";

const root = document.getElementById("root");

for (const start of [
  startPlaces,
  startSelection,
  startSnapshots,
  startPreviews,
  startTimeView,
  startValues,
])
  start();

if (root) {
  createRoot(root).render(
    <QueryClientProvider client={queryClient}>
      <ChakraProvider value={system}>
        <App />
      </ChakraProvider>
    </QueryClientProvider>,
  );
}
