/** Out of sight and back again, with a reason; what holds no record can be deleted instead. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useLeftText } from "../../app/useLeft";
import { answered, api } from "../../api/client";
import { say, texts } from "../../texts";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";

const words = texts.people.archive;
export type Kind = "sites" | "loops" | "gangs" | "photos";

interface Props {
  kind: Kind;
  id: string;
  name: string;
  way?: "archive" | "bring-back";
  onDone: () => void;
  onClose: () => void;
}

export function ArchiveDialog({ kind, id, name, way = "archive", onDone, onClose }: Props) {
  const [reason, setReason] = useLeftText(`${way}:${kind}:${id}`);
  const client = useQueryClient();
  const done = async () => {
    setReason("");
    // What was left is not asked for again: it would answer that it is archived.
    const isLeft = way === "archive" && (kind === "loops" || kind === "sites");
    if (kind === "gangs") await client.refetchQueries({ queryKey: ["loop"] });
    onDone();
    await client.invalidateQueries({ refetchType: isLeft ? "none" : "active" });
  };
  const act = useMutation({
    mutationFn: () =>
      answered(
        api.POST(`/api/v1/${kind}/{id}/${way}/`, {
          params: { path: { id } },
          body: { reason: reason.trim() },
        }),
      ),
    onSuccess: done,
  });
  const remove = useMutation({
    mutationFn: () => answered(api.DELETE(`/api/v1/${kind as "loops"}/{id}/`, { params: { path: { id } } })),
    onSuccess: done,
  });
  const isBack = way === "bring-back";
  return (
    <FormDialog
      title={say(isBack ? words.backTitle : words.title, { name })}
      action={isBack ? words.back : words.action}
      isReady={reason.trim() !== ""}
      isPending={act.isPending}
      error={act.error ?? remove.error}
      onSubmit={() => act.mutate()}
      onClose={() => {
        setReason("");
        onClose();
      }}
    >
      {!isBack && <p className="quiet">{words.lead}</p>}
      <TextLine label={words.reason} value={reason} maxLength={200} onChange={setReason} />
      {!isBack && kind !== "photos" && (
        <p className="quiet">
          {words.deleteLead}{" "}
          <button
            type="button"
            className="outlined"
            disabled={remove.isPending}
            onClick={() => remove.mutate()}
          >
            {words.delete}
          </button>
        </p>
      )}
    </FormDialog>
  );
}
