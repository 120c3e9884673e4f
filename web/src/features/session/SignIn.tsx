/** The door. */
import type { Schemas } from "../../api/client";
import { useTray } from "../../device/useTray";
import { say, texts } from "../../texts";
import { LanguageOfDevice } from "./Languages";
import { SignInForm } from "./SignInForm";

export function SignIn({ demoAccounts }: { demoAccounts: Schemas["DemoAccount"][] }) {
  const { others } = useTray();
  return (
    <div className="door">
      <svg className="door-thread" viewBox="0 0 1280 400" preserveAspectRatio="none" aria-hidden="true">
        <path d="M0 90 C 220 90 260 250 480 250 S 760 120 940 120 S 1160 300 1280 300" />
      </svg>
      <div className="door-in">
        <p className="door-product">{texts.product}</p>
        <p className="door-motto">{texts.signIn.motto}</p>
        <SignInForm firstName="" demoAccounts={demoAccounts} />
        <nav className="door-languages" aria-label={texts.languages.label}>
          <LanguageOfDevice />
        </nav>
        {Object.entries(others).map(([who, count]) => (
          <p key={who} className="notice">
            {say(texts.device.others, { who, count })}
          </p>
        ))}
      </div>
    </div>
  );
}
