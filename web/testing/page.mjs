/**
 * A page made by happy-dom, for tests of the interface under Mocha. Loaded before anything else,
 * because Vue looks for the page when it is loaded itself.
 */
// Before the page is there: its events are Node's own.
import 'chai';
import { Window } from 'happy-dom';

const window = new Window({ url: 'http://localhost/', width: 1280, height: 800 });
/** What happy-dom would take the place of and Node has itself. */
const NODES_OWN = new Set(['console', 'performance', 'crypto', 'setTimeout', 'clearTimeout']);
for (const name of Object.getOwnPropertyNames(window)) {
  if (name in globalThis || NODES_OWN.has(name)) continue;
  Object.defineProperty(globalThis, name, {
    configurable: true,
    writable: true,
    value: Reflect.get(window, name),
  });
}
Object.defineProperty(globalThis, 'window', { configurable: true, value: globalThis });
// What Vuetify asks of a page and happy-dom does not have.
const visualViewport = Object.assign(new window.EventTarget(), {
  ...{ width: 1280, height: 800, offsetLeft: 0, offsetTop: 0, scale: 1 },
});
Object.assign(globalThis, { visualViewport });
for (const name of ['addEventListener', 'removeEventListener', 'dispatchEvent']) {
  Reflect.set(globalThis, name, Reflect.get(window, name).bind(window));
}
for (const name of ['Event', 'CustomEvent', 'navigator']) {
  Object.defineProperty(globalThis, name, {
    configurable: true,
    writable: true,
    value: Reflect.get(window, name),
  });
}
