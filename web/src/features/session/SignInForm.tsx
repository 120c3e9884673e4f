/** Name and password. */
import { type FormEvent, useId, useState } from "react";
import type { Schemas } from "../../api/client";
import { texts, wordOf } from "../../texts";
import { useSignIn } from "./queries";

interface Props {
  firstName: string;
  demoAccounts: Schemas["DemoAccount"][];
}

export function SignInForm({ firstName, demoAccounts }: Props) {
  const [username, setUsername] = useState(firstName);
  const [password, setPassword] = useState("");
  const [isShared, setShared] = useState(false);
  const id = useId();
  const signIn = useSignIn();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!signIn.isPending) signIn.mutate({ username, password, is_shared: isShared });
  };
  return (
    <form className="sign-in" onSubmit={submit} aria-labelledby={id}>
      <h1 id={id}>{texts.signIn.title}</h1>
      <label>
        {texts.signIn.name}
        <input
          name="username"
          autoComplete="username"
          value={username}
          onChange={(event) => setUsername(event.target.value)}
          required
        />
      </label>
      <label>
        {texts.signIn.password}
        <input
          name="password"
          type="password"
          autoComplete="current-password"
          autoFocus={firstName !== ""}
          value={password}
          onChange={(event) => setPassword(event.target.value)}
          required
        />
      </label>
      <label className="tick">
        <input type="checkbox" checked={isShared} onChange={(event) => setShared(event.target.checked)} />
        {texts.people.shared}
      </label>
      {signIn.isError && (
        <p className="wrong" role="alert">
          {signIn.error.message}
        </p>
      )}
      <button type="submit" className="solid" disabled={signIn.isPending}>
        {texts.signIn.button}
      </button>
      {demoAccounts.length > 0 && (
        <div className="door-demo">
          <p>{texts.signIn.demo}</p>
          <ul>
            {demoAccounts.map((account) => (
              <li key={account.username}>
                <span>
                  <b>{account.username}</b> · {wordOf(texts.signIn.roles, account.role) ?? account.role}
                </span>
                <code>{account.password}</code>
                <button
                  type="button"
                  className="outlined"
                  aria-label={`${texts.signIn.use} ${account.username}`}
                  onClick={() => signIn.mutate(account)}
                >
                  {texts.signIn.use}
                </button>
              </li>
            ))}
          </ul>
        </div>
      )}
    </form>
  );
}
