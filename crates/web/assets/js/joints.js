// A joint that is touched, or chosen with Enter, says what it holds and how it stands.
function say(joint) {
  const svg = joint.ownerSVGElement,
    host = svg.closest("[data-zoom]") || svg.parentElement;
  let words = host.parentElement.querySelector(":scope > .joint-says");
  if (!words) {
    words = document.createElement("p");
    words.className = "joint-says";
    words.setAttribute("role", "status");
    host.after(words);
  }
  words.textContent = joint.getAttribute("aria-label");
  svg.querySelectorAll(".joint.told").forEach(j => j.classList.remove("told"));
  joint.classList.add("told");
}
document.addEventListener("click", e => {
  const joint = e.target.closest?.("svg .joint");
  if (joint) say(joint);
});
document.addEventListener("keydown", e => {
  const joint = e.target.closest?.("svg .joint");
  if (!joint || (e.key !== "Enter" && e.key !== " ")) return;
  e.preventDefault();
  say(joint);
});
