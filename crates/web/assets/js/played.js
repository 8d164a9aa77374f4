// How a machine stands after some of its acts were played. No page here: tried by itself in played.test.js.

/**
 * @param acts in their order: `moves` (ids of bodies), `off`, `way` (-1, 0, 1), `half` (one half of a housing), `stack` (what it clamps, the
 * tightener last), `tight`
 * @param k how many of them were played
 * @return `out`: what is off, with the way it left, halves of housings as `id half`; `tight`: ids of what is clamped
 */
export function standing(acts, k) {
  const parted = new Set(acts.filter(a => a.half).flatMap(a => a.moves)),
    out = new Map(),
    tight = new Map();
  for (const a of acts.slice(0, k)) {
    for (const id of a.moves) {
      const key = a.half ? id + " half" : id;
      if (a.off) out.set(key, a.way);
      else out.delete(key);
      if (!a.half && a.off && parted.has(id)) out.set(id + " half", 0);
    }
    if (a.stack.length) tight.set(a.stack.at(-1), a.tight ? a.stack : null);
  }
  return { out, tight: new Set([...tight.values()].filter(Boolean).flat()) };
}

/**
 * @param acts as above, with `bolts` (a ring and how the act leaves it: `tight`, `slack`, `away`) and `hot` (whether it heats its body or finds
 * it cold)
 * @param k how many of them were played
 * @return `bolts`: how each ring of bolts stands that an act was done to; `hot`: ids of what is hot
 */
export function joints(acts, k) {
  const bolts = new Map(),
    hot = new Set();
  for (const a of acts.slice(0, k)) {
    if (a.bolts) bolts.set(...a.bolts);
    if (a.hot) hot.add(a.body);
    else if (a.hot === false) hot.delete(a.body);
  }
  return { bolts, hot };
}
