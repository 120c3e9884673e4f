/** The English messages, as one tree; `texts/en/web` in the project's root holds them. */
import bench from "../../../texts/en/web/bench.json";
import choose from "../../../texts/en/web/choose.json";
import device from "../../../texts/en/web/device.json";
import fit from "../../../texts/en/web/fit.json";
import handover from "../../../texts/en/web/handover.json";
import isolation from "../../../texts/en/web/isolation.json";
import lit from "../../../texts/en/web/lit.json";
import people from "../../../texts/en/web/people.json";
import prove from "../../../texts/en/web/prove.json";
import quantity from "../../../texts/en/web/quantity.json";
import round from "../../../texts/en/web/round.json";
import setup from "../../../texts/en/web/setup.json";
import shelf from "../../../texts/en/web/shelf.json";
import shell from "../../../texts/en/web/shell.json";
import spread from "../../../texts/en/web/spread.json";
import survey from "../../../texts/en/web/survey.json";
import visits from "../../../texts/en/web/visits.json";
import ways from "../../../texts/en/web/ways.json";

export const tree = {
  ...shell,
  ...round,
  ...bench,
  choose,
  device,
  fit,
  handover,
  isolation,
  lit,
  people,
  prove,
  quantity,
  setup,
  shelf,
  spread,
  survey,
  visits,
  ways,
};
