import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/atkinson-hyperlegible-mono";
import "./app/styles/base.css";
import "./app/styles/round.css";
import "./app/styles/bench.css";
import "./app/styles/thread.css";
import "./app/styles/work.css";
import "./app/styles/survey.css";
import "./app/styles/device.css";
import "./app/styles/spread.css";
import "./app/styles/choose.css";
import "./app/styles/lit.css";
import "./app/styles/shelf.css";
import "./app/styles/print.css";
import { loadTexts } from "./texts";

// Words first: modules of the application read them as they load.
void loadTexts().then(() => import("./app/start"));
