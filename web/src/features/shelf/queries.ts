/** Parts of the shelf, their sources, and files in and out. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";

export type Part = Schemas["Part"];
export type PartDetail = Schemas["PartDetail"];
export type Claim = Schemas["Claim"];
export type PartField = Schemas["PartField"];
export type NewPart = Schemas["PartMakeRequest"];
export type NewClaim = Schemas["ClaimMakeRequest"];
export type ImportResult = Schemas["ImportResult"];

export function useParts() {
  return useQuery({ queryKey: ["parts"], queryFn: () => answered(api.GET("/api/v1/parts/")) });
}

export function usePart(id: string | null) {
  return useQuery({
    queryKey: ["part", id],
    queryFn: () => answered(api.GET("/api/v1/parts/{id}/", { params: { path: { id: id ?? "" } } })),
    enabled: id !== null,
  });
}

export function usePartKinds() {
  return useQuery({
    queryKey: ["part-kinds"],
    queryFn: () => answered(api.GET("/api/v1/part-kinds/")),
    staleTime: Infinity,
  });
}

/** After a change of the shelf everything that shows it is asked anew. */
function useFresh() {
  const client = useQueryClient();
  return () =>
    Promise.all(
      [["parts"], ["part"], ["changes"], ["loops"], ["loop"]].map((queryKey) =>
        client.invalidateQueries({ queryKey }),
      ),
    );
}

/** What was refused was made on something older: what stands there now is fetched. */
function useSeeNow(id: string) {
  const client = useQueryClient();
  return () => client.invalidateQueries({ queryKey: ["part", id] });
}

export function useAddClaim(id: string, onTaken: () => void) {
  const fresh = useFresh();
  const onError = useSeeNow(id);
  return useMutation({
    mutationFn: (body: NewClaim) =>
      answered(api.POST("/api/v1/parts/{id}/claims/", { params: { path: { id } }, body })),
    onSuccess: () => {
      onTaken();
      return fresh();
    },
    onError,
  });
}

export function useUseClaim(id: string) {
  const onSuccess = useFresh();
  const onError = useSeeNow(id);
  return useMutation({
    mutationFn: (body: { version: number; claim: string }) =>
      answered(api.POST("/api/v1/parts/{id}/use/", { params: { path: { id } }, body })),
    onSuccess,
    onError,
  });
}

export function useMakePart() {
  const onSuccess = useFresh();
  return useMutation({
    mutationFn: (body: NewPart) => answered(api.POST("/api/v1/parts/", { body })),
    onSuccess,
  });
}

export function useImport() {
  const onSuccess = useFresh();
  return useMutation({
    mutationFn: (body: { text: string; format: "csv" | "json"; apply: boolean }) =>
      answered(api.POST("/api/v1/parts/import/", { body })),
    onSuccess: (made) => (made.is_applied ? onSuccess() : undefined),
  });
}
