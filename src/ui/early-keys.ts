/** Where keys are written. */
export const FIELDS =
  'input:not([type=checkbox]):not([type=radio]), textarea, select, [contenteditable=true], [role=dialog]';

/** What Enter and the space bar press: these are theirs. */
export const PRESSED = 'button, a[href], summary, [role=button], [role=switch], [role=radio]';

/** A key that was pressed before what acts on it was there. */
export interface EarlyKey {
  /** In small letters. */
  key: string;
  /** With Ctrl, or the key that stands for it. */
  ctrl: boolean;
  event: KeyboardEvent;
}

declare global {
  interface Window {
    earlyKeys?: { kept: EarlyKey[]; end: () => void };
  }
}

/** What was kept and nobody took is no wish any more, this long after the first part of the screen works, ms. */
const FORGOTTEN_AFTER_MS = 3_000;

/**
 * Stands in the document itself, before any other script: keeps the keys that are pressed until the parts of the screen
 * that act on them work. It hears them before anybody else does, as React lets no key through to a part that is still to
 * come. Keys in fields and with Alt are the browser's, as they are later.
 */
export const KEEP_EARLY_KEYS = `(function(){
function keep(e){
var at=e.target&&e.target.closest?e.target:document.documentElement;
if(e.altKey||at.closest('${FIELDS}')||(/^(Enter| )$/.test(e.key)&&at.closest('${PRESSED}')))return;
var ctrl=e.ctrlKey||e.metaKey,key=e.key.toLowerCase();
if(ctrl&&key==='k')e.preventDefault();
window.earlyKeys.kept.push({key:key,ctrl:ctrl,event:e});
}
addEventListener('keydown',keep,true);
window.earlyKeys={kept:[],end:function(){
window.earlyKeys.end=function(){};
setTimeout(function(){removeEventListener('keydown',keep,true);delete window.earlyKeys;},${FORGOTTEN_AFTER_MS});
}};
})()`;

/** A key that comes through to who acts on it may have been taken on its way: React may get its part to work meanwhile. */
const taken = new WeakSet<KeyboardEvent>();

/** Takes those of the early keys that a part of the screen acts on, now that it does; other parts may take the others. */
export function takeEarlyKeys(actsOn: (key: EarlyKey) => boolean): EarlyKey[] {
  const early = window.earlyKeys;
  if (!early) return [];
  early.end();
  const found = early.kept.filter(actsOn);
  early.kept = early.kept.filter((one) => !found.includes(one));
  for (const { event } of found) taken.add(event);
  return found;
}

/** Takes a key as it comes. False where it was taken before. */
export function takeKey(event: KeyboardEvent): boolean {
  if (taken.has(event)) return false;
  if (window.earlyKeys) window.earlyKeys.kept = window.earlyKeys.kept.filter((one) => one.event !== event);
  return true;
}
