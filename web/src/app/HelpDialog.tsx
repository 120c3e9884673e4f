/** Keys, how figures are typed, and the words of the trade as they are meant here. */
import { Dialog } from "../features/dialog/Dialog";
import { texts } from "../texts";
import { areShortcutsOn, switchShortcuts } from "./keys";

const words = texts.helpText;

export function HelpDialog({ onClose }: { onClose: () => void }) {
  return (
    <Dialog open title={words.title} footer={null} onCancel={onClose}>
      <dl className="keys">
        {words.keys.map(({ key, what }) => (
          <div key={key}>
            <dt>{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <label className="tick">
        <input
          type="checkbox"
          defaultChecked={areShortcutsOn()}
          onChange={(event) => switchShortcuts(event.target.checked)}
        />
        {words.shortcuts}
      </label>
      <h3>{words.glossaryTitle}</h3>
      <dl className="glossary">
        {words.glossary.map(({ word, what }) => (
          <div key={word}>
            <dt>{word}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <p>{words.thread}</p>
      <p>{words.typing}</p>
    </Dialog>
  );
}
