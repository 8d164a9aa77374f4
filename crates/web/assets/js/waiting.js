// The queue of readings: kept in this browser until the server has acknowledged each, one key for each, so that two
// tabs never write over each other's. A reading belongs to who typed it: it waits for that person, whoever signs in
// meanwhile. No page here: tried by itself in waiting.test.js.

const KEY = "iron-seat-waiting:";
/** Where an older page kept all of them under one key. */
const OLDER = "iron-seat-waiting";
const SHORTEST = 400,
  LONGEST = 4000;

/** UUIDv7: made here, so that sending twice stores once. */
export function uuid7(now = Date.now(), random = crypto.getRandomValues(new Uint8Array(16))) {
  const b = Uint8Array.from(random);
  for (let i = 0; i < 6; i++) b[i] = Math.floor(now / 2 ** (8 * (5 - i))) & 255;
  b[6] = (b[6] & 15) | 112;
  b[8] = (b[8] & 63) | 128;
  const h = [...b].map(x => x.toString(16).padStart(2, "0")).join("");
  return h.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5");
}

export class Waiting {
  #sending = false;
  #pause = SHORTEST;

  /**
   * @param storage as localStorage
   * @param me id of who is signed in, empty for nobody
   * @param name that person's name
   * @param post sends one reading: its answer with `status`, `ok` and `text()`; throws when there is none
   * @param alone does work while no other tab does any
   * @param rest waits so many milliseconds
   */
  constructor({ storage, me, name, post, alone = work => work(), rest = ms => new Promise(done => setTimeout(done, ms)) }) {
    Object.assign(this, { storage, me, name, post, alone, rest });
    try {
      for (const i of JSON.parse(storage.getItem(OLDER)) ?? []) this.put({ ...i, person: me, name });
    } catch {
      /* nothing that can be read */
    }
    storage.removeItem(OLDER);
  }

  /** Whether a key of the storage is one of these. */
  static has(key) {
    return key?.startsWith(KEY) ?? false;
  }

  put(item) {
    this.storage.setItem(KEY + item.id, JSON.stringify(item));
  }

  /** Takes in what was typed. */
  take(item) {
    const whole = { id: uuid7(), person: this.me, name: this.name, ...item };
    this.put(whole);
    return whole;
  }

  #all() {
    const keys = Array.from({ length: this.storage.length }, (_, i) => this.storage.key(i))
      .filter(Waiting.has)
      .sort();
    return keys.flatMap(k => {
      try {
        return [JSON.parse(this.storage.getItem(k))];
      } catch {
        return [];
      }
    });
  }

  /** Those of who is signed in, oldest first. */
  own() {
    return this.#all().filter(i => i.person === this.me);
  }

  /** Those of everybody else. */
  others() {
    return this.#all().filter(i => i.person !== this.me);
  }

  // One try, while no other tab tries: a tab whose sign-in is over must not keep the others from sending.
  async #once(item) {
    if (this.storage.getItem(KEY + item.id) === null) return { elsewhere: true };
    // A body that breaks off is no answer either.
    const whole = async answer => ({ answer, html: await answer.text() });
    const { answer, html } = await Promise.resolve(item)
      .then(this.post)
      .then(whole)
      .catch(() => ({ answer: null, html: "" }));
    const final = answer !== null && (answer.ok || [404, 409, 422].includes(answer.status));
    if (final) this.storage.removeItem(KEY + item.id);
    else this.put({ ...item, tried: true, signedOut: [401, 403].includes(answer?.status) });
    return { answer, html, final };
  }

  /**
   * Sends what waits, one after the other, each until it is acknowledged or refused.
   * @param told `final(item, answer, html)` for each that came to its end, `kept()` when one could not be sent,
   * `elsewhere()` when another tab sent it
   */
  async send(told) {
    if (this.#sending || !this.me) return;
    this.#sending = true;
    for (let q = this.own(); q.length; q = this.own()) {
      const item = q[0],
        { answer, html, final, elsewhere } = await this.alone(() => this.#once(item));
      if (elsewhere) {
        told.elsewhere?.();
      } else if (final) {
        this.#pause = SHORTEST;
        told.final?.(item, answer, html);
      } else {
        told.kept?.();
        await this.rest(this.#pause);
        this.#pause = Math.min(this.#pause * 1.6, LONGEST);
      }
    }
    this.#sending = false;
  }
}
