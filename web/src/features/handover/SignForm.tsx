/**
 * Signing: drawn on this screen, with the password, or why a client does not. What is refused stays as it was.
 *
 * What was chosen and typed outlives a reload until it is sent or given up; strokes and a password stay on no device.
 */
import { useLayoutEffect, useRef, useState } from "react";
import { useLeft } from "../../app/useLeft";
import { say, texts } from "../../texts";
import { TextLine } from "../dialog/TextLine";
import { type Issue, type Signer, useSign } from "./queries";
import { SignPad, type Strokes } from "./SignPad";

const words = texts.handover;
type Way = "drawn" | "password" | "absent";

interface Props {
  issue: Issue;
  role: Signer;
  roleText: string;
  /** Whose account it is. */
  who: string;
  onDone: () => void;
}

export function SignForm({ issue, role, roleText, who, onDone }: Props) {
  const { form, change, forget } = useLeft(`sign:${issue.id}:${role}`, {
    way: "drawn" as Way,
    name: "",
    reason: "",
  });
  const { way, name, reason } = form;
  const [strokes, setStrokes] = useState<Strokes>([]);
  const [password, setPassword] = useState("");
  // Sent again after a lost connection it is the same signature.
  const [id] = useState(() => crypto.randomUUID());
  const signing = useSign(issue.id);
  const place = useRef<HTMLFormElement>(null);
  // It takes the place of the button at the foot of a long page: the eye and the keys go along.
  useLayoutEffect(() => {
    place.current?.querySelector<HTMLInputElement>("input:checked")?.focus();
    place.current?.scrollIntoView({ block: "nearest" });
  }, []);
  const close = () => {
    forget();
    onDone();
  };
  const isClient = role === "client";
  const ways: Way[] = isClient ? ["drawn", "absent"] : ["drawn", "password"];
  const title = say(words.signAs, { role: roleText, number: issue.number });
  return (
    <form
      ref={place}
      className="sign-form"
      aria-label={title}
      onSubmit={(event) => {
        event.preventDefault();
        signing.mutate(
          {
            id,
            role,
            way,
            strokes: way === "drawn" ? strokes : [],
            chain: issue.chain,
            name,
            password,
            reason,
          },
          { onSuccess: close },
        );
      }}
    >
      <h3>{title}</h3>
      <p>{isClient ? words.clientSigns : say(words.youSign, { who })}</p>
      <fieldset className="sign-ways">
        <legend>{words.how}</legend>
        {ways.map((one) => (
          <label key={one} className="check">
            <input type="radio" name="way" checked={way === one} onChange={() => change({ way: one })} />
            {words.ways[one]}
          </label>
        ))}
      </fieldset>
      {isClient && way === "drawn" && (
        <TextLine
          label={words.clientName}
          value={name}
          maxLength={120}
          onChange={(typed) => change({ name: typed })}
        />
      )}
      {way === "drawn" && <SignPad label={words.pad} strokes={strokes} onStrokes={setStrokes} />}
      {way === "password" && (
        <label className="field">
          {words.password}
          <input
            type="password"
            autoComplete="current-password"
            value={password}
            maxLength={200}
            onChange={(event) => setPassword(event.target.value)}
          />
        </label>
      )}
      {way === "absent" && (
        <TextLine
          label={words.whyAbsent}
          value={reason}
          maxLength={300}
          onChange={(typed) => change({ reason: typed })}
        />
      )}
      {signing.isError && (
        <p className="wrong" role="alert">
          {signing.error.message}
        </p>
      )}
      <p className="form-buttons">
        <button type="submit" className="solid" disabled={signing.isPending}>
          {way === "absent" ? words.keepReason : words.sign}
        </button>
        <button type="button" className="plain" onClick={close}>
          {words.cancel}
        </button>
      </p>
    </form>
  );
}
