/** The German messages, as one tree; `texts/de/web` in the project's root holds them. */
import bench from "../../../texts/de/web/bench.json";
import choose from "../../../texts/de/web/choose.json";
import device from "../../../texts/de/web/device.json";
import fit from "../../../texts/de/web/fit.json";
import handover from "../../../texts/de/web/handover.json";
import isolation from "../../../texts/de/web/isolation.json";
import lit from "../../../texts/de/web/lit.json";
import people from "../../../texts/de/web/people.json";
import prove from "../../../texts/de/web/prove.json";
import quantity from "../../../texts/de/web/quantity.json";
import round from "../../../texts/de/web/round.json";
import setup from "../../../texts/de/web/setup.json";
import shelf from "../../../texts/de/web/shelf.json";
import shell from "../../../texts/de/web/shell.json";
import spread from "../../../texts/de/web/spread.json";
import survey from "../../../texts/de/web/survey.json";
import visits from "../../../texts/de/web/visits.json";
import ways from "../../../texts/de/web/ways.json";

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
