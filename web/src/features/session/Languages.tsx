/** Each other language by its own name. */
import { language, texts } from "../../texts";
import { keepLanguage, LANGUAGES, type Language } from "../../texts/language";
import { useLanguage } from "./queries";

const { names } = texts.languages;

function Others({ disabled, onChoose }: { disabled: boolean; onChoose: (language: Language) => void }) {
  return LANGUAGES.filter((entry) => entry !== language).map((entry) => (
    <button
      key={entry}
      type="button"
      className="plain"
      lang={entry}
      disabled={disabled}
      onClick={() => onChoose(entry)}
    >
      {names[entry]}
    </button>
  ));
}

/** For whoever is signed in: kept with the account. */
export function LanguageOfPerson() {
  const change = useLanguage();
  return <Others disabled={change.isPending} onChoose={(wanted) => change.mutate(wanted)} />;
}

/** Before anybody has signed in: kept on this device. */
export function LanguageOfDevice() {
  return (
    <Others
      disabled={false}
      onChoose={(wanted) => {
        keepLanguage(wanted);
        location.reload();
      }}
    />
  );
}
