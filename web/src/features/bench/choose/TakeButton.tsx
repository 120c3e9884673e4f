/** Puts a choice on the bench. */
import { say, texts } from "../../../texts";
import type { Choice } from "./queries";

const words = texts.choose;

export function TakeButton({ choice, onTake }: { choice: Choice; onTake: (choice: Choice) => void }) {
  return (
    <button
      type="button"
      className="outlined"
      aria-label={say(words.fitted, { name: choice.name })}
      onClick={() => onTake(choice)}
    >
      {words.fit}
    </button>
  );
}
