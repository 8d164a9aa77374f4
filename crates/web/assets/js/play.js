// The procedure played in the half section: what comes off and goes on, where the tool reaches, what is tight, and what
// stands in the way when an act is tried out of its order.
import { joints, standing } from "./played.js";

(() => {
  const box = document.querySelector(".play"),
    holder = document.querySelector("[data-zoom]"),
    svg = holder?.querySelector("svg");
  const data = document.getElementById("played");
  if (!box || !svg || !data) return;
  const acts = JSON.parse(data.textContent),
    n = acts.length;
  if (!n) return;
  const get = name => box.querySelector(`[data-play="${name}"]`);
  const run = get("run"),
    at = get("at"),
    where = get("where"),
    words = get("words"),
    why = get("why");
  const rows = [...document.querySelectorAll(".play-list [data-k]")];
  const width = svg.viewBox.baseVal.width,
    height = svg.viewBox.baseVal.height;
  const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
  const of = (id, name) => [...svg.querySelectorAll(`[data-${name}="${CSS.escape(id)}"]`)];
  const drawn = id => [...of(id, "part"), ...of(id, "housing"), ...of(id, "below")];
  const ids = [...new Set(acts.flatMap(a => a.moves))];
  const layer = document.createElementNS("http://www.w3.org/2000/svg", "g");
  layer.setAttribute("class", "tool-rings");
  svg.append(layer);
  box.hidden = false;
  svg.classList.add("played");
  let k = 0,
    timer = 0;
  const place = (e, way, gone, low) => {
    const move = gone ? `translate(${way * width * 0.5}px, ${way ? 0 : (low ? 1 : -1) * height * 0.5}px)` : "";
    e.style.transform = move;
    e.classList.toggle("gone", gone);
  };
  const light = list => {
    svg.querySelectorAll(".lit").forEach(e => e.classList.remove("lit"));
    list
      .filter(Boolean)
      .flatMap(drawn)
      .forEach(e => e.classList.add("lit"));
  };
  const say = (text, bad) => {
    words.textContent = text;
    words.classList.toggle("said", !!bad);
  };
  const reason = (a, w) => {
    const li = document.createElement("li"),
      b = document.createElement("button");
    b.type = "button";
    b.className = "plain";
    b.textContent = w.words;
    b.addEventListener("click", () => {
      stop();
      light([a.body, w.body]);
      why.querySelectorAll("button").forEach(x => x.setAttribute("aria-pressed", x === b));
    });
    li.append(b);
    return li;
  };
  const rings = a => {
    layer.replaceChildren(
      ...(a?.rings || []).map(([x0, x1, y0, y1]) => {
        const r = document.createElementNS("http://www.w3.org/2000/svg", "rect");
        for (const [name, v] of Object.entries({ x: x0, y: y0, width: Math.max(x1 - x0, 3), height: Math.max(y1 - y0, 3) }))
          r.setAttribute(name, v);
        return r;
      }),
    );
  };

  const show = to => {
    k = Math.max(0, Math.min(n, to));
    const now = acts[k - 1],
      { out, tight } = standing(acts, k);
    for (const id of ids) {
      const gone = out.has(id),
        half = out.has(id + " half");
      [...of(id, "part"), ...of(id, "housing")].forEach(e =>
        place(e, gone ? out.get(id) : 0, gone || (half && of(id, "housing").includes(e)), false),
      );
      of(id, "leader").forEach(e => e.classList.toggle("gone", gone));
      of(id, "below").forEach(e => place(e, gone ? out.get(id) : 0, gone, true));
    }
    const { bolts, hot } = joints(acts, k);
    svg.querySelectorAll(".joint").forEach(e => {
      const now = bolts.get(e.dataset.joint) || "tight",
        label = e.getAttribute("aria-label").replace(/[^:]*\.$/, ` ${now}.`);
      for (const [word, look] of Object.entries({ tight: "fast", slack: "slack", away: "away" })) e.classList.toggle(look, word === now);
      e.setAttribute("aria-label", label);
      e.querySelector("title").textContent = label;
    });
    const told = svg.querySelector(".joint.told"),
      says = document.querySelector(".joint-says");
    if (told && says) says.textContent = told.getAttribute("aria-label");
    svg.querySelectorAll("[data-part]").forEach(e => e.classList.toggle("hot", hot.has(e.dataset.part)));
    svg.querySelectorAll(".tight").forEach(e => e.classList.remove("tight"));
    [...tight].flatMap(drawn).forEach(e => e.classList.add("tight"));
    rings(now);
    light(now ? [...now.moves, now.body] : []);
    at.value = k;
    where.textContent = `${k} of ${n}${now ? ", " + now.stage : ""}`;
    say(now ? `${now.words}${now.tool ? " · " + now.tool : ""}` : "As it stands. Play it, or step with the arrow keys.");
    why.replaceChildren(...(now ? now.why.map(w => reason(now, w)) : []));
    rows.forEach(r => {
      const here = +r.dataset.k === k - 1;
      r.classList.toggle("now", here);
      if (here) {
        r.closest("details").open = true;
        if (timer) r.scrollIntoView({ block: "nearest", inline: "nearest" });
      }
    });
  };
  const stop = () => {
    clearInterval(timer);
    timer = 0;
    run.textContent = "Play";
    run.setAttribute("aria-pressed", "false");
  };
  const play = () => {
    if (k >= n) show(0);
    run.textContent = "Pause";
    run.setAttribute("aria-pressed", "true");
    // From end to end in about a minute.
    timer = setInterval(
      () => {
        if (k >= n) stop();
        else show(k + 1);
      },
      Math.max(250, 60000 / n),
    );
  };
  run.addEventListener("click", () => (timer ? stop() : play()));
  at.addEventListener("input", () => {
    stop();
    show(+at.value);
  });
  get("back").addEventListener("click", () => {
    stop();
    show(k - 1);
  });
  get("on").addEventListener("click", () => {
    stop();
    show(k + 1);
  });
  box.addEventListener("keydown", e => {
    if (e.target === at) return; // the slider steps by itself
    if (e.key === "ArrowRight" || e.key === "ArrowLeft") {
      e.preventDefault();
      stop();
      show(k + (e.key === "ArrowRight" ? 1 : -1));
    }
  });
  if (still) svg.classList.add("still");

  // Tried out of order: act `from` just before act `to`, or after it when it is dragged down. What stands against it
  // says so, and the two bodies light up.
  let asked = 0;
  const attempt = async (from, to) => {
    stop();
    if (from === to) return;
    const a = acts[from],
      up = to < from,
      mine = ++asked;
    let against;
    try {
      const version = new URLSearchParams(location.search).get("v");
      const answer = await fetch(`${location.pathname}/tried?act=${from}&at=${to}${version ? `&v=${version}` : ""}`);
      if (!answer.ok) throw new Error();
      against = await answer.json();
    } catch {
      say("The answer did not come: look at the connection and try it again.", true);
      return;
    }
    if (mine !== asked) return; // another one was tried meanwhile
    show(up ? to : from);
    if (!against.length) {
      say(`${a.words} This may also be done ${up ? "before" : "after"}: ${acts[to].words}`);
      light([a.body]);
      why.replaceChildren();
    } else {
      const both = w => [acts[w.then].body, acts[w.first].body];
      say(`Not in that order: ${against[0].words}.`, true);
      light(both(against[0]));
      // Both are drawn where they meet.
      both(against[0])
        .flatMap(drawn)
        .forEach(e => place(e, 0, false));
      rings(a);
      why.replaceChildren(...against.slice(0, 6).map(w => reason(acts[w.then], { words: w.words, body: acts[w.first].body })));
    }
    box.scrollIntoView({ block: "nearest" });
  };
  // Dragged by the row with a mouse, by its grip with a finger: the list itself still scrolls.
  let held = null;
  const under = e => document.elementFromPoint(e.clientX, e.clientY)?.closest(".play-list [data-k]");
  const let_go = () => {
    held = null;
    rows.forEach(r => r.classList.remove("drop", "held"));
  };
  document.addEventListener("pointermove", e => {
    if (!held) return;
    if (Math.hypot(e.clientX - held.x, e.clientY - held.y) > 6) held.moved = true;
    if (!held.moved) return;
    held.row.classList.add("held");
    rows.forEach(r => r.classList.toggle("drop", r === under(e) && r !== held.row));
  });
  document.addEventListener("pointerup", e => {
    if (!held) return;
    const { row, moved } = held,
      to = under(e);
    let_go();
    if (to && to !== row) attempt(+row.dataset.k, +to.dataset.k);
    else if (!moved) {
      stop();
      show(+row.dataset.k + 1);
    }
  });
  document.addEventListener("pointercancel", let_go);
  rows.forEach(r => {
    const mine = +r.dataset.k;
    r.addEventListener("pointerdown", e => {
      const grip = e.target.closest(".grip");
      if (e.button) return;
      if (e.pointerType === "mouse" || grip) e.preventDefault(); // no text is marked on the way
      if (grip) e.target.releasePointerCapture?.(e.pointerId);
      r.focus({ preventScroll: true });
      held = { row: r, x: e.clientX, y: e.clientY, moved: false };
    });
    r.addEventListener("keydown", e => {
      if (e.key === "Enter") {
        e.preventDefault();
        stop();
        show(mine + 1);
      }
      if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
      e.preventDefault();
      // Each press tries it one act further.
      const by = e.key === "ArrowUp" ? -1 : 1,
        far = +(r.dataset.tried || mine) + by;
      if (far < 0 || far >= n) return;
      r.dataset.tried = far;
      attempt(mine, far);
    });
    r.addEventListener("blur", () => {
      delete r.dataset.tried;
    });
  });
  show(0);
})();
