import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/atkinson-hyperlegible-mono";
import "./app/tokens.css";
import "./app/base.css";
import "./features/round/round.css";
import "./features/handover/handover.css";
import "./features/bench/bench.css";
import "./features/bench/thread/thread.css";
import "./features/bench/work.css";
import "./features/survey/survey.css";
import "./features/tray/tray.css";
import "./features/bench/spread/spread.css";
import "./features/bench/choose/choose.css";
import "./features/bench/lit/lit.css";
import "./features/shelf/shelf.css";
import "./app/print.css";
import { loadTexts } from "./texts";

// Words first: modules of the application read them as they load.
void loadTexts().then(() => import("./app/start"));
