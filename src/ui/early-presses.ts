declare global {
  interface Window {
    earlyPresses?: { works: () => void };
  }
}

/** A button whose part of the screen has not come this long after the first part works is not pressed any more, ms. */
const FORGOTTEN_AFTER_MS = 5_000;
const AGAIN_AFTER_MS = 50;

/**
 * Stands in the document itself, before any other script: keeps the presses of buttons whose script is not there yet, and
 * presses them once it is, each once. What React has no part for yet it lets no press through to, and stops it at the
 * document; so a press that gets below that, once the screen works, is heard, whatever is done with it there. Links go
 * where they lead by themselves.
 */
export const KEEP_EARLY_PRESSES = `(function(){
var kept=[],works=false;
function button(e){return e.target&&e.target.closest&&e.target.closest('button,[role=button],[role=tab],[role=menuitem]');}
function keep(e){
var one=button(e);
if(one&&one.tagName!=='A'&&kept.indexOf(one)<0)kept.push(one);
}
function heard(e){
if(!works)return;
var one=button(e);
kept=kept.filter(function(other){return other!==one;});
}
function again(){
var now=kept;
kept=[];
now.forEach(function(one){if(one.isConnected)one.click();});
}
addEventListener('click',keep,true);
document.documentElement.addEventListener('click',heard,true);
window.earlyPresses={works:function(){
if(works)return;
works=true;
var ticks=setInterval(again,${AGAIN_AFTER_MS});
setTimeout(function(){
clearInterval(ticks);
removeEventListener('click',keep,true);
document.documentElement.removeEventListener('click',heard,true);
},${FORGOTTEN_AFTER_MS});
}};
})()`;
