// A sentence that stands beside a field belongs to it: whoever does not see it hears it with the field, and what is
// typed next goes there.
import { $, $$, on } from "./dom.js";

const free = () => document.activeElement === document.body || document.activeElement?.hasAttribute("autofocus");
function point() {
  const fields = $$(".said[id^='said-']").flatMap(said => {
    const name = CSS.escape(said.id.slice("said-".length));
    const beside = (said.closest("form") ?? document).querySelector(`[name="${name}"]:not([type=hidden])`);
    if (!beside) return [];
    beside.setAttribute("aria-invalid", "true");
    if (!beside.hasAttribute("aria-describedby")) beside.setAttribute("aria-describedby", said.id);
    return [beside];
  });
  if (fields.length && free()) fields[0].focus();
}
on("swapped", point);
if ($(".said")) point();
