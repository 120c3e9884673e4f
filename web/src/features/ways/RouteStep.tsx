/** The route step: the ways side by side, the wire map of the chosen one, drawings that are checked. */
import { useState } from "react";
import { texts } from "../../texts";
import type { Loop } from "../bench/queries";
import type { Step, Tab } from "../bench/steps";
import { ChosenMap } from "./ChosenMap";
import { CheckDrawing } from "./CheckDrawing";
import { Ways } from "./Ways";
import { useWork } from "./queries";
import "./ways.css";

interface Props {
  loop: Loop;
  tab: "ways" | "map" | "drawing";
  isChanged: boolean;
  mayEdit: boolean;
  onGo: (step: Step, tab?: Tab | null) => void;
}

export function RouteStep({ loop, tab, isChanged, mayEdit, onGo }: Props) {
  const work = useWork(loop.id);
  // The chosen map taken to the drawing, to be changed there.
  const [isTrying, tryIt] = useState(false);
  if (work.data === undefined) {
    return work.isError ? (
      <p className="wrong" role="alert">
        {work.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.computing}</p>
    );
  }
  return (
    <div className="ways">
      {isChanged && <p className="notice">{texts.ways.keepFirst}</p>}
      {tab === "ways" && <Ways loop={loop} work={work.data} mayEdit={mayEdit} onGo={onGo} />}
      {tab === "map" && (
        <ChosenMap
          work={work.data}
          onTry={() => {
            tryIt(true);
            onGo("route", "drawing");
          }}
        />
      )}
      {tab === "drawing" && (
        <CheckDrawing loop={loop} work={work.data} mayEdit={mayEdit} isBegun={isTrying} />
      )}
    </div>
  );
}
