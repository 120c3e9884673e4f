/** Session: who is signed in. */
import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, keepCsrfToken, type Schemas } from "../../api/client";

type Session = Schemas["Session"];

async function kept(call: Promise<Session>): Promise<Session> {
  const session = await call;
  keepCsrfToken(session.csrf_token);
  return session;
}

const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: () => kept(answered(api.GET("/api/v1/session/"))),
  staleTime: Infinity,
});

export function useSession() {
  return useQuery(sessionQuery);
}

export function useSignIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["SignInRequest"]) => kept(answered(api.POST("/api/v1/session/", { body }))),
    onSuccess: (session) => client.setQueryData(sessionQuery.queryKey, session),
  });
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => kept(answered(api.DELETE("/api/v1/session/"))),
    onSuccess: (session) => {
      client.setQueryData(sessionQuery.queryKey, session);
      client.removeQueries({ predicate: (query) => query.queryKey[0] !== sessionQuery.queryKey[0] });
    },
  });
}
