// What every module here uses.

/** The first element that a selector finds. */
export const $ = (selector, root = document) => root.querySelector(selector);
/** All of them. */
export const $$ = (selector, root = document) => [...root.querySelectorAll(selector)];
/** A page or a part of one, as it came. */
export const parsed = html => new DOMParser().parseFromString(html, "text/html");
/** Shows what only scripts can do. */
export const scripted = (root = document) => $$("[data-scripted]", root).forEach(e => (e.hidden = false));
/** Says to the other modules that something happened. */
export const say = (name, detail = {}, on = document) => on.dispatchEvent(new CustomEvent(`iron-seat:${name}`, { bubbles: true, detail }));
/** Listens to what another module says. */
export const on = (name, heard) => document.addEventListener(`iron-seat:${name}`, heard);
