/** Step Set up: who is in range, joining, programs, and what still works. */
import { texts } from "../../texts";
import type { Gang } from "../bench/draft";
import type { Loop } from "../bench/queries";
import type { Step, Tab } from "../bench/steps";
import { Fails } from "./Fails";
import { Joining } from "./Joining";
import { Programming } from "./Programming";
import { useHouse } from "./queries";
import { RadioOf } from "./RadioOf";
import "../fit/fit.css";
import "./setup.css";

interface Props {
  loop: Loop;
  gang: Gang;
  tab: "radio" | "join" | "programs" | "fails";
  mayEdit: boolean;
  onGo: (step: Step, tab?: Tab | null) => void;
}

export function SetupStep({ loop, gang, tab, mayEdit, onGo }: Props) {
  const house = useHouse(loop.site);
  if (house.data === undefined) {
    return house.isError ? (
      <p className="wrong" role="alert">
        {house.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.loading}</p>
    );
  }
  const toRadio = () => onGo("setup", "radio");
  return (
    <div className="setup">
      {tab === "radio" && <RadioOf house={house.data} loop={loop} mayEdit={mayEdit} />}
      {tab === "join" && <Joining house={house.data} loop={loop} mayEdit={mayEdit} onRadio={toRadio} />}
      {tab === "programs" && (
        <Programming
          key={gang.id}
          gang={gang}
          site={loop.site}
          mayEdit={mayEdit}
          onRadio={toRadio}
          onLevels={() => onGo("judge", "light_on")}
        />
      )}
      {tab === "fails" && <Fails site={loop.site} loop={loop.id} onRadio={toRadio} />}
    </div>
  );
}
