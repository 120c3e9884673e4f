/** The open isolations. */
import { useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";

export type Isolation = Schemas["Isolation"];
export type OpenIsolation = Schemas["OpenIsolation"];
export type Lock = Schemas["Lock"];

// Somebody may switch off or on at any moment.
const EVERY_MS = 15_000;

export function useIsolations() {
  return useQuery({
    queryKey: ["isolations"],
    queryFn: () => answered(api.GET("/api/v1/isolations/")),
    refetchInterval: EVERY_MS,
  });
}
