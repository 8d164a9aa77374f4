// Iron Seat in the browser. Every page works without this; with it nothing that was typed is lost, and nobody waits for
// a page.
import "./clocks.js";
import "./busy.js";
import "./errors.js";
import "./asking.js";
import "./looking.js";
import "./joints.js";
import "./entry.js";
import "./keys.js";
import "./zoom.js";
import "./board.js";
import "./reckoner.js";
import { listen } from "./live.js";

listen();
