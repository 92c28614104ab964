/** A key that was pressed before the screen's script was there. */
export interface EarlyKey {
  /** In small letters. */
  key: string;
  /** With Ctrl, or the key that stands for it. */
  ctrl: boolean;
}

declare global {
  interface Window {
    earlyKeys?: { kept: EarlyKey[]; stop: () => void };
  }
}

/** What was kept and nobody took is no wish any more, this long after the first part of the screen works, ms. */
const FORGOTTEN_AFTER_MS = 3_000;

/**
 * Stands in the document itself, before any other script: keeps the keys that are pressed until the screen's script is
 * there. Keys in fields and with Alt are the browser's, as they are later.
 */
export const KEEP_EARLY_KEYS = `(function(){
var kept=[];
function keep(e){
if(e.altKey||(e.target&&e.target.closest&&e.target.closest('input,textarea,select')))return;
var ctrl=e.ctrlKey||e.metaKey,key=e.key.toLowerCase();
if(ctrl&&key==='k')e.preventDefault();
kept.push({key:key,ctrl:ctrl});
}
addEventListener('keydown',keep);
window.earlyKeys={kept:kept,stop:function(){
removeEventListener('keydown',keep);
window.earlyKeys.stop=function(){};
setTimeout(function(){delete window.earlyKeys;},${FORGOTTEN_AFTER_MS});
}};
})()`;

/** Takes those of the early keys that a part of the screen acts on, now that it does; other parts may take the others. */
export function takeEarlyKeys(actsOn: (key: EarlyKey) => boolean): EarlyKey[] {
  const early = window.earlyKeys;
  if (!early) return [];
  early.stop();
  const taken = early.kept.filter(actsOn);
  early.kept = early.kept.filter((one) => !taken.includes(one));
  return taken;
}
