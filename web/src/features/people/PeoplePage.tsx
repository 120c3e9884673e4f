/** Everybody who signs in: made, changed and ended by an administrator. */
import { useState } from "react";
import { useLeft } from "../../app/useLeft";
import { useTitle } from "../../app/useTitle";
import { texts } from "../../texts";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";
import { useEdits } from "../dialog/useEdits";
import { Personal } from "./Personal";
import { Tokens } from "./Tokens";
import { when } from "../when";
import {
  type Account,
  type Role,
  useAccounts,
  useChangeAccount,
  useGivePassword,
  useMakeAccount,
} from "./queries";

const words = texts.people;
const ROLES: readonly Role[] = ["technician", "checker", "administrator"];

export function PeoplePage() {
  useTitle(words.title);
  const accounts = useAccounts();
  const [open, setOpen] = useState<"none" | "new" | Account>("none");
  const [giving, setGiving] = useState<Account | null>(null);
  return (
    <div className="round people">
      <div className="round-tools">
        <h1>{words.title}</h1>
        <button type="button" className="solid" onClick={() => setOpen("new")}>
          {words.add}
        </button>
      </div>
      <p className="quiet">{words.lead}</p>
      {accounts.isError && (
        <p className="wrong" role="alert">
          {accounts.error.message}
        </p>
      )}
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">{words.name}</th>
            <th scope="col">{words.signsInAs}</th>
            <th scope="col">{words.role}</th>
            <th scope="col">{words.extra}</th>
            <th scope="col">{words.lastSeen}</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          {accounts.data?.map((account) => (
            <tr key={account.id} className={account.is_active ? undefined : "is-ended"}>
              <td>
                <b>{account.display_name || account.username}</b>
                {account.must_change && account.is_active && <small>{words.mustChange}</small>}
                {!account.is_active && <small>{words.ended}</small>}
              </td>
              <td>{account.username}</td>
              <td>{words.roles[account.role ?? "technician"]}</td>
              <td>{extras(account)}</td>
              <td>{account.last_seen_at ? when(account.last_seen_at) : words.never}</td>
              <td className="row-buttons">
                <button
                  type="button"
                  className="outlined"
                  aria-label={`${words.change}: ${account.username}`}
                  onClick={() => setOpen(account)}
                >
                  {words.change}
                </button>
                <button
                  type="button"
                  className="outlined"
                  aria-label={`${words.forgotten}: ${account.username}`}
                  disabled={!account.is_active}
                  onClick={() => setGiving(account)}
                >
                  {words.forgotten}
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Tokens />
      <Personal />
      {open === "new" && <NewAccount onClose={() => setOpen("none")} />}
      {typeof open === "object" && (
        <ChangeAccount
          account={accounts.data?.find((one) => one.id === open.id) ?? open}
          onClose={() => setOpen("none")}
        />
      )}
      {giving && <GivePassword account={giving} onClose={() => setGiving(null)} />}
    </div>
  );
}

function extras(account: Account): string {
  if (account.role === "administrator") return `${words.keepsSites}, ${words.keepsShelf} (${words.byRole})`;
  const given = [account.keeps_sites && words.keepsSites, account.keeps_shelf && words.keepsShelf];
  return given.filter(Boolean).join(", ") || "–";
}

interface Rights {
  role: Role;
  keeps_sites: boolean;
  keeps_shelf: boolean;
}

function RightsFields({ rights, onChange }: { rights: Rights; onChange: (rights: Rights) => void }) {
  return (
    <>
      <label>
        {words.role}
        <select
          value={rights.role}
          onChange={(event) => onChange({ ...rights, role: event.target.value as Role })}
        >
          {ROLES.map((role) => (
            <option key={role} value={role}>
              {words.roles[role]}
            </option>
          ))}
        </select>
      </label>
      {rights.role === "technician" && (
        <fieldset className="ticks">
          <legend>{words.extra}</legend>
          <Tick
            label={words.keepsSites}
            value={rights.keeps_sites}
            onChange={(value) => onChange({ ...rights, keeps_sites: value })}
          />
          <Tick
            label={words.keepsShelf}
            value={rights.keeps_shelf}
            onChange={(value) => onChange({ ...rights, keeps_shelf: value })}
          />
        </fieldset>
      )}
    </>
  );
}

function Tick({
  label,
  value,
  onChange,
}: {
  label: string;
  value: boolean;
  onChange: (value: boolean) => void;
}) {
  return (
    <label className="tick">
      <input type="checkbox" checked={value} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
  );
}

function NewAccount({ onClose }: { onClose: () => void }) {
  const { form, isLeft, change, forget } = useLeft("account", {
    name: "",
    username: "",
    rights: { role: "technician", keeps_sites: false, keeps_shelf: false } as Rights,
  });
  const { name, username, rights } = form;
  // Stays on no device.
  const [password, setPassword] = useState("");
  const close = () => {
    forget();
    onClose();
  };
  const make = useMakeAccount();
  return (
    <FormDialog
      title={words.add}
      action={words.make}
      isReady={name.trim() !== "" && username.trim() !== "" && password !== ""}
      isPending={make.isPending}
      error={make.error}
      isLeft={isLeft}
      onSubmit={() =>
        make.mutate(
          { display_name: name.trim(), username: username.trim(), password, ...rights },
          { onSuccess: close },
        )
      }
      onClose={close}
    >
      <TextLine
        label={words.name}
        value={name}
        maxLength={120}
        onChange={(typed) => change({ name: typed })}
      />
      <TextLine
        label={words.signsInAs}
        value={username}
        maxLength={60}
        onChange={(typed) => change({ username: typed })}
      />
      <RightsFields rights={rights} onChange={(given) => change({ rights: given })} />
      <TextLine label={words.given} value={password} maxLength={200} onChange={setPassword} />
      <p className="quiet">
        {words.givenLead} {words.own.rule}
      </p>
    </FormDialog>
  );
}

function ChangeAccount({ account, onClose }: { account: Account; onClose: () => void }) {
  const edits = useEdits(
    `edit:account:${account.id}`,
    {
      name: account.display_name ?? "",
      isActive: account.is_active ?? true,
      rights: {
        role: account.role ?? "technician",
        keeps_sites: account.keeps_sites ?? false,
        keeps_shelf: account.keeps_shelf ?? false,
      } as Rights,
    },
    account.version ?? 1,
  );
  const { name, isActive, rights } = edits.form;
  const change = useChangeAccount(account.id);
  const close = () => {
    edits.forget();
    onClose();
  };
  return (
    <FormDialog
      title={`${words.change}: ${account.username}`}
      action={words.save}
      isReady={name.trim() !== ""}
      isPending={change.isPending}
      error={edits.told(change.error)}
      isLeft={edits.isLeft}
      onSubmit={() =>
        change.mutate(
          { version: edits.version, display_name: name.trim(), is_active: isActive, ...rights },
          { onSuccess: close, onError: edits.onError },
        )
      }
      onClose={close}
    >
      <TextLine
        label={words.name}
        value={name}
        maxLength={120}
        onChange={(typed) => edits.change({ name: typed })}
      />
      <RightsFields rights={rights} onChange={(given) => edits.change({ rights: given })} />
      <Tick
        label={words.isActive}
        value={isActive}
        onChange={(ticked) => edits.change({ isActive: ticked })}
      />
      {!isActive && <p className="quiet">{words.endsNote}</p>}
    </FormDialog>
  );
}

function GivePassword({ account, onClose }: { account: Account; onClose: () => void }) {
  const [password, setPassword] = useState("");
  const give = useGivePassword(account.id);
  return (
    <FormDialog
      title={`${words.forgotten}: ${account.username}`}
      action={words.give}
      isReady={password !== ""}
      isPending={give.isPending}
      error={give.error}
      onSubmit={() => give.mutate(password, { onSuccess: onClose })}
      onClose={onClose}
    >
      <TextLine label={words.given} value={password} maxLength={200} onChange={setPassword} />
      <p className="quiet">
        {words.givenLead} {words.own.rule}
      </p>
    </FormDialog>
  );
}
