// Entry of the page's script: registers the components and starts Alpine.

import Alpine from "@alpinejs/csp";

import { aim } from "./aimed.js";
import { begun } from "./begun.js";
import { bench } from "./bench.js";
import { bars, cures, echo, levels, newest, opened, outlets, sizes, stacks, wish } from "./components.js";
import { fall } from "./fall.js";
import { hint } from "./hint.js";
import { leaving } from "./leaving.js";
import { logbook } from "./logbook.js";
import { morning } from "./morning.js";
import { plan } from "./plan/editor.js";
import { ticks } from "./ticks.js";

Alpine.data("bars", bars);
Alpine.data("begun", begun);
Alpine.data("bench", bench);
Alpine.data("cures", cures);
Alpine.data("echo", echo);
Alpine.data("fall", fall);
Alpine.data("levels", levels);
Alpine.data("newest", newest);
Alpine.data("opened", opened);
Alpine.data("outlets", outlets);
Alpine.data("hint", hint);
Alpine.data("leaving", leaving);
Alpine.data("logbook", logbook);
Alpine.data("morning", morning);
Alpine.data("plan", plan);
Alpine.data("sizes", sizes);
Alpine.data("stacks", stacks);
Alpine.data("ticks", ticks);
Alpine.data("wish", wish);
window.Alpine = Alpine; // the browser tests lint the templates' expressions with it
Alpine.start();
aim();
