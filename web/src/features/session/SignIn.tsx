/** The door. */
import { type FormEvent, useState } from "react";
import type { Schemas } from "../../api/client";
import { texts } from "../../texts/en";
import { useSignIn } from "./queries";

export function SignIn({ demoAccounts }: { demoAccounts: Schemas["DemoAccount"][] }) {
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const signIn = useSignIn();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate({ username, password });
  };
  return (
    <div className="door">
      <svg className="door-thread" viewBox="0 0 1280 400" preserveAspectRatio="none" aria-hidden="true">
        <path d="M0 90 C 220 90 260 250 480 250 S 760 120 940 120 S 1160 300 1280 300" />
      </svg>
      <form onSubmit={submit} aria-labelledby="door-title">
        <p className="door-product">{texts.product}</p>
        <p className="door-motto">{texts.signIn.motto}</p>
        <h1 id="door-title">{texts.signIn.title}</h1>
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
            value={password}
            onChange={(event) => setPassword(event.target.value)}
            required
          />
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
                    <b>{account.username}</b> · {account.role}
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
    </div>
  );
}
