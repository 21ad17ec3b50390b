// Entry of every page's script: registers the components and starts Alpine. What only some pages need comes
// before it, in scripts of their own (charting.js, planning.js).

import Alpine from "@alpinejs/csp";

import { aim } from "./aimed.js";
import { tellArrival, tellLastSeen } from "./arriving.js";
import { begun } from "./begun.js";
import { bench } from "./bench.js";
import { cures, echo, later, newest, opened, outlets, wish } from "./components.js";
import { fall } from "./fall.js";
import { hint } from "./hint.js";
import { leaving } from "./leaving.js";
import { logbook } from "./logbook.js";
import { morning } from "./morning.js";
import { ticks } from "./ticks.js";
import { watchWaits } from "./waiting.js";

Alpine.data("begun", begun);
Alpine.data("bench", bench);
Alpine.data("cures", cures);
Alpine.data("echo", echo);
Alpine.data("fall", fall);
Alpine.data("later", later);
Alpine.data("newest", newest);
Alpine.data("opened", opened);
Alpine.data("outlets", outlets);
Alpine.data("hint", hint);
Alpine.data("leaving", leaving);
Alpine.data("logbook", logbook);
Alpine.data("morning", morning);
Alpine.data("ticks", ticks);
Alpine.data("wish", wish);

window.Alpine = Alpine; // the browser tests lint the templates' expressions with it
Alpine.start();
aim();
tellArrival();
tellLastSeen();
watchWaits();
