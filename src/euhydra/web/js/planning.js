// Entry for the plan: its component, which draws, drags and keeps.

import { plan } from "./plan/editor.js";

document.addEventListener("alpine:init", () => window.Alpine.data("plan", plan));
