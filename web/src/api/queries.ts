import { QueryClient } from "@tanstack/react-query";

/** What the page knows of the server, by what was asked. */
export const queryClient = new QueryClient({
  defaultOptions: { queries: { refetchOnWindowFocus: false } },
});
