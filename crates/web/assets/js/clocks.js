// Clocks count down in the top edge and beside what waits.
import { $, $$, on } from "./dom.js";

// Clocks: the server's time counts, whatever this device believes.
const skew = Number(document.body.dataset.now || Date.now()) - Date.now();
const two = n => String(n).padStart(2, "0");
const rung = new Set();
function tick() {
  for (const el of $$("[data-ends]")) {
    const left = Math.max(0, Math.round((Number(el.dataset.ends) - Date.now() - skew) / 1000));
    const out = el.matches("[data-left]") ? el : $("[data-left]", el);
    const h = Math.floor(left / 3600),
      text = (h ? h + ":" : "") + two(Math.floor(left / 60) % 60) + ":" + two(left % 60);
    if (out && out.textContent !== text) out.textContent = text;
    if (el.matches(".chip")) {
      el.classList.toggle("rung", left === 0);
      if (left > 0) rung.add(el.dataset.ends);
      else if (rung.delete(el.dataset.ends)) ring();
    }
  }
}
let audio;
function ring() {
  // softly, and only if the browser lets us
  try {
    audio ||= new AudioContext();
    const o = audio.createOscillator(),
      g = audio.createGain();
    o.frequency.value = 660;
    g.gain.setValueAtTime(0.08, audio.currentTime);
    g.gain.exponentialRampToValueAtTime(0.0001, audio.currentTime + 1.4);
    o.connect(g).connect(audio.destination);
    o.start();
    o.stop(audio.currentTime + 1.5);
  } catch {
    /* in sight it rings anyway */
  }
}
setInterval(tick, 500);
tick();
on("swapped", tick);
on("clocks", tick);
