/** Accounts, one's own sessions, who works at a site, and the trail. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";

export type Account = Schemas["Account"];
export type Role = Schemas["RoleEnum"];

export function useAccounts() {
  return useQuery({ queryKey: ["accounts"], queryFn: () => answered(api.GET("/api/v1/accounts/")) });
}

function useAccountWrite<T>(write: (given: T) => Promise<Account>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: write,
    onSettled: () => client.invalidateQueries({ queryKey: ["accounts"] }),
  });
}

export function useMakeAccount() {
  return useAccountWrite((body: Schemas["AccountMakeRequest"]) =>
    answered(api.POST("/api/v1/accounts/", { body })),
  );
}

export function useChangeAccount(id: string) {
  return useAccountWrite((body: Schemas["PatchedAccountChangeRequest"]) =>
    answered(api.PATCH("/api/v1/accounts/{id}/", { params: { path: { id } }, body })),
  );
}

export function useGivePassword(id: string) {
  return useAccountWrite((password: string) =>
    answered(api.POST("/api/v1/accounts/{id}/password/", { params: { path: { id } }, body: { password } })),
  );
}

export function useOwnPassword() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["OwnPasswordRequest"]) => answered(api.PUT("/api/v1/password/", { body })),
    // The session answers with a new token, and the page is open now.
    onSuccess: () => client.invalidateQueries(),
  });
}

export function useSignIns() {
  return useQuery({ queryKey: ["sign-ins"], queryFn: () => answered(api.GET("/api/v1/sign-ins/")) });
}

export function useEndSignIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      answered(api.POST("/api/v1/sign-ins/{id}/end/", { params: { path: { id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["sign-ins"] }),
  });
}

export type Token = Schemas["Token"];

export function useTokens() {
  return useQuery({ queryKey: ["tokens"], queryFn: () => answered(api.GET("/api/v1/tokens/")) });
}

function useTokenWrite<G, T>(write: (given: G) => Promise<T>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: write,
    onSettled: () => client.invalidateQueries({ queryKey: ["tokens"] }),
  });
}

export function useMakeToken() {
  return useTokenWrite((body: Schemas["TokenMakeRequest"]) =>
    answered(api.POST("/api/v1/tokens/", { body })),
  );
}

export function useEndToken() {
  return useTokenWrite((id: string) =>
    answered(api.POST("/api/v1/tokens/{id}/end/", { params: { path: { id } } })),
  );
}

/** What is kept of a client; looking changes nothing, so that no list is fetched anew. */
export function useFindPersonal() {
  return useMutation({
    mutationFn: (name: string) => answered(api.POST("/api/v1/personal/find/", { body: { name } })),
  });
}

export function useErasePersonal() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["PersonalEraseRequest"]) =>
      answered(api.POST("/api/v1/personal/erase/", { body })),
    onSuccess: () => client.invalidateQueries(),
  });
}

export function useMembers(site: string) {
  return useQuery({
    queryKey: ["members", site],
    queryFn: () => answered(api.GET("/api/v1/sites/{id}/members/", { params: { path: { id: site } } })),
  });
}

export function useSetMembers(site: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["MembersRequest"]) =>
      answered(api.PUT("/api/v1/sites/{id}/members/", { params: { path: { id: site } }, body })),
    onSettled: () => client.invalidateQueries({ queryKey: ["members", site] }),
  });
}

export function useTrail(search: string, page: number) {
  return useQuery({
    queryKey: ["trail", search, page],
    queryFn: ({ signal }) =>
      answered(
        api.GET("/api/v1/trail/", { params: { query: { search: search || undefined, page } }, signal }),
      ),
    placeholderData: keepPreviousData,
  });
}
