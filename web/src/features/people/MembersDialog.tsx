/** Who works at a site: nobody else sees it. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { say, texts } from "../../texts";
import { FormDialog } from "../dialog/FormDialog";
import { useMembers, useSetMembers } from "./queries";

const words = texts.people.members;

export function MembersDialog({ site, name, onClose }: { site: string; name: string; onClose: () => void }) {
  const people = useMembers(site);
  const keep = useSetMembers(site);
  const [changed, setChanged] = useState<Record<string, boolean>>({});
  const here = (one: Schemas["Person"]) => changed[one.id] ?? one.works_here;
  const members = (people.data ?? []).filter(here).map((one) => one.id);
  const before = (people.data ?? []).filter((one) => one.works_here).map((one) => one.id);
  return (
    <FormDialog
      title={say(words.title, { site: name })}
      action={words.save}
      isReady={people.isSuccess}
      isPending={keep.isPending}
      error={keep.error ?? people.error}
      onSubmit={() => keep.mutate({ members, before }, { onSuccess: onClose })}
      onClose={onClose}
    >
      <p className="quiet">{words.lead}</p>
      <fieldset className="ticks members">
        <legend className="hidden-word">{words.open}</legend>
        {people.data?.map((one) => (
          <label className="tick" key={one.id}>
            <input
              type="checkbox"
              checked={here(one)}
              onChange={(event) => setChanged({ ...changed, [one.id]: event.target.checked })}
            />
            {one.display_name}{" "}
            <small>{one.is_program ? words.program : texts.people.roles[one.role ?? "technician"]}</small>
            {one.sees_all && <small> · {words.sees}</small>}
          </label>
        ))}
      </fieldset>
    </FormDialog>
  );
}
