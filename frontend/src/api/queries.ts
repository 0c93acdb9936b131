import { QueryClient } from "@tanstack/vue-query";
import { Refusal } from "./client";

/**
 * What the server keeps, as this browser has it. It grows old only when the server tells so (see the stream of a job), or
 * when a page is opened; a server that is away is asked again for a while.
 */
export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: Infinity,
      gcTime: 300_000,
      networkMode: "always",
      refetchOnWindowFocus: false,
      retry: (count, fault) => fault instanceof Refusal && [0, 503].includes(fault.status) && count < 8,
      retryDelay: (count) => Math.min(500 * 2 ** count, 5000),
    },
    mutations: { networkMode: "always" },
  },
});
