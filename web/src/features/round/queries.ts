/** Sites, circuits and loops. */
import { keepPreviousData, queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";

type Verdict = Schemas["VerdictEnum"];

/** What is asked of the round. */
export interface RoundWish {
  search: string;
  site: string | null;
  verdicts: Verdict[];
  next: Schemas["NextStepEnum"][];
  stages: Schemas["StageEnum"][];
  order: Order;
  page: number;
  isArchived: boolean;
  /** Only what is assigned to whoever reads. */
  isMine: boolean;
  /** Only what a plan visits, in its order. */
  plan: string | null;
}

/** Ways to order the round; by breaker it is grouped too. */
export const ORDERS = ["name", "breaker", "worst", "recent", "due"] as const;
type Order = (typeof ORDERS)[number];

export const PAGE_SIZE = 50;

export function useLoops(wish: RoundWish) {
  return useQuery({
    queryKey: ["loops", wish],
    queryFn: ({ signal }) =>
      answered(
        api.GET("/api/v1/loops/", {
          params: {
            query: {
              search: wish.search || undefined,
              site: wish.site ?? undefined,
              verdict: wish.verdicts.length > 0 ? wish.verdicts : undefined,
              next_step: wish.next.length > 0 ? wish.next : undefined,
              stage: wish.stages.length > 0 ? wish.stages : undefined,
              order: wish.plan ? undefined : wish.order,
              plan: wish.plan ?? undefined,
              page: wish.page,
              page_size: PAGE_SIZE,
              archived: wish.isArchived ? "1" : undefined,
              mine: wish.isMine ? true : undefined,
            },
          },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

const sitesQuery = queryOptions({
  queryKey: ["sites"],
  queryFn: () => answered(api.GET("/api/v1/sites/", { params: { query: { page_size: 200 } } })),
});

export function useSites() {
  return useQuery(sitesQuery);
}

export function useArchivedSites() {
  return useQuery({
    queryKey: ["sites", "archived"],
    queryFn: () => answered(api.GET("/api/v1/sites/", { params: { query: { archived: "1" } } })),
  });
}

export function useCircuits(site: string | null) {
  return useQuery({
    queryKey: ["circuits", site],
    queryFn: () =>
      answered(
        api.GET("/api/v1/circuits/", { params: { query: { site: site ?? undefined, page_size: 200 } } }),
      ),
    enabled: site !== null,
  });
}

export function useMakeSite() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["SiteRequest"]) => answered(api.POST("/api/v1/sites/", { body })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["sites"] }),
  });
}

export interface NewLoop {
  site: string;
  name: string;
  note: string;
  circuit: string | null;
  newBreaker: string;
}

/** Makes the breaker too where a new one is named. */
export function useMakeLoop() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (wish: NewLoop) => {
      let circuit = wish.circuit;
      if (wish.newBreaker) {
        const made = await answered(
          api.POST("/api/v1/circuits/", { body: { site: wish.site, breaker: wish.newBreaker } }),
        );
        circuit = made.id;
      }
      return answered(
        api.POST("/api/v1/loops/", {
          body: { site: wish.site, circuit, name: wish.name, note: wish.note },
        }),
      );
    },
    onSettled: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: ["loops"] }),
        client.invalidateQueries({ queryKey: ["circuits"] }),
      ]),
  });
}

/** Where the same rows are a table, all pages of them. */
export function listAddress(wish: RoundWish): string {
  const query = new URLSearchParams();
  if (wish.search) query.set("search", wish.search);
  if (wish.site) query.set("site", wish.site);
  for (const verdict of wish.verdicts) query.append("verdict", verdict);
  for (const next of wish.next) query.append("next_step", next);
  for (const stage of wish.stages ?? []) query.append("stage", stage);
  if (wish.isMine) query.set("mine", "true");
  if (wish.plan) query.set("plan", wish.plan);
  else query.set("order", wish.order);
  return `/api/v1/loops.csv?${query.toString()}`;
}

/** A list of loops: looked at, or taken. */
export function useLoopsFromFile() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { text: string; apply: boolean }) =>
      answered(api.POST("/api/v1/loops/import/", { body })),
    onSuccess: (made) => (made.is_applied ? client.invalidateQueries() : undefined),
  });
}

export interface BundleWish {
  file: File;
  apply: boolean;
  /** Records that are to become what the bundle says. */
  take: readonly string[];
}

/** A bundle of another copy: looked at, or brought in. */
export function useBundle() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ file, apply, take }: BundleWish) => {
      const form = new FormData();
      form.set("apply", String(apply));
      form.set("take", take.join());
      form.set("file", file, "bundle.zip");
      return answered(
        // The typed body says what the form holds; the browser writes the form itself.
        api.POST("/api/v1/bundles/", { body: { file: "", apply, take: "" }, bodySerializer: () => form }),
      );
    },
    onSuccess: (made) => (made.is_applied ? client.invalidateQueries() : undefined),
  });
}

/** Words found anywhere on record. */
export function useEverywhere(words: string) {
  return useQuery({
    queryKey: ["everywhere", words],
    queryFn: ({ signal }) =>
      answered(api.GET("/api/v1/search/", { params: { query: { q: words } }, signal })),
    enabled: words.trim() !== "",
    placeholderData: keepPreviousData,
  });
}
