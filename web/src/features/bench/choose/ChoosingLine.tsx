/** How far the choosing is, and what went wrong with it. */
import { texts } from "../../../texts";
import { ProgressLine } from "../../ProgressLine";
import type { useChoosing } from "./queries";

const words = texts.choose;

export function ChoosingLine({ choosing }: { choosing: ReturnType<typeof useChoosing> }) {
  return (
    <>
      {choosing.isFetching && (
        <ProgressLine
          label={choosing.data ? words.refining : words.computing}
          progress={choosing.progress}
          onStop={choosing.stop}
        />
      )}
      {choosing.isError && (
        <p className="wrong" role="alert">
          {choosing.error.message}
        </p>
      )}
    </>
  );
}
