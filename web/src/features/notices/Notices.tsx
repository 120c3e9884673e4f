/** What this person must know, above every page, until they say that they have read it. */
import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { texts } from "../../texts";
import { when } from "../when";

const words = texts.device.notices;
// Somebody may take this person's lock off at any time.
const EVERY_MS = 15_000;

const noticesQuery = queryOptions({
  queryKey: ["notices"],
  queryFn: () => answered(api.GET("/api/v1/notices/")),
});

/** They are asked for the first time: what comes pushes down what stands below, so nothing there is to be pressed. */
export function useNoticesComing(): boolean {
  const { isPending, fetchStatus, failureCount } = useQuery(noticesQuery);
  return isPending && fetchStatus === "fetching" && failureCount === 0;
}

export function Notices() {
  const client = useQueryClient();
  const notices = useQuery({ ...noticesQuery, refetchInterval: EVERY_MS });
  const seen = useMutation({
    mutationFn: (id: string) =>
      answered(api.POST("/api/v1/notices/{id}/seen/", { params: { path: { id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["notices"] }),
  });
  return (
    <>
      {(notices.data ?? []).map((notice) => (
        <div key={notice.id} className="notice must-know" role="alert">
          <p>
            <b>{notice.text}</b> <small>{when(notice.at)}</small>
          </p>
          <button type="button" className="outlined" onClick={() => seen.mutate(notice.id)}>
            {words.seen}
          </button>
        </div>
      ))}
    </>
  );
}
