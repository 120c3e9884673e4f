/** Session: who is signed in. */
import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, keepCsrfToken, type Schemas } from "../../api/client";
import { putAnswer } from "../../api/putAnswer";
import { setDoor } from "../../app/door";
import { currentPerson, setPerson } from "../../app/person";
import { personChanged } from "../../device/tray";
import { language } from "../../texts";
import { type Language, languageHere } from "../../texts/language";

type Session = Schemas["Session"];

async function kept(call: Promise<Session>): Promise<Session> {
  const session = await call;
  keepCsrfToken(session.csrf_token);
  const { user } = session;
  setPerson(user ? { id: user.id, name: user.display_name || user.username } : null);
  personChanged();
  return session;
}

const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: ({ signal }) => kept(answered(api.GET("/api/v1/session/", { signal }))),
  staleTime: Infinity,
});

export function useSession() {
  return useQuery(sessionQuery);
}

/** Signing in; over a page whose session lapsed the same person goes on, and another begins anew. */
export function useSignIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (body: Schemas["SignInRequest"]) => {
      const before = currentPerson()?.id;
      // The token may have gone with the session that lapsed.
      keepCsrfToken((await answered(api.GET("/api/v1/session/"))).csrf_token);
      const session = await kept(answered(api.POST("/api/v1/session/", { body })));
      return { session, isAnother: before !== undefined && before !== session.user?.id };
    },
    onSuccess: ({ session, isAnother }) => {
      // Words that stand on the page already would stay in the old language.
      if (session.user?.language && session.user.language !== language) location.reload();
      putAnswer(client, sessionQuery.queryKey, session);
      if (isAnother) client.removeQueries({ predicate: isNotSession });
      else void client.invalidateQueries({ predicate: isNotSession });
      setDoor("none");
    },
  });
}

function isNotSession(query: { queryKey: readonly unknown[] }): boolean {
  return query.queryKey[0] !== sessionQuery.queryKey[0];
}

/** The language this person reads, here and wherever they sign in. */
export function useLanguage() {
  return useMutation({
    mutationFn: (wanted: Language) => answered(api.PATCH("/api/v1/session/", { body: { language: wanted } })),
    onSuccess: () => location.reload(),
  });
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => kept(answered(api.DELETE("/api/v1/session/"))),
    onSuccess: (session) => {
      // The language went with the person: whoever comes next is not met in it.
      if (languageHere() !== language) location.reload();
      putAnswer(client, sessionQuery.queryKey, session);
      client.removeQueries({ predicate: isNotSession });
    },
  });
}
