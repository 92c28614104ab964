import type { PageScript } from '../page/page-assets.ts';
import type { HeadPart } from './contribution.ts';
import { policyRefusal } from './policy.ts';
import type { Scene } from './treatment.ts';

/** A click that found no answer is done again at most so long after, ms. */
export const KEPT_FOR_MS = 5_000;

/** How often a kept click is looked after: once no more listeners come, the scripts that bring them are through, ms. */
const LOOK_EVERY_MS = 50;

/**
 * What a visitor clicks before the scripts that answer have run is clicked once more as soon as something listens:
 * the page as authored showed nothing to click until then. Never what a listener heard already, what the browser
 * answers by itself (a link, a field, a submit button, a summary, a label), or what was let go of by clicking elsewhere.
 */
export const EARLY_CLICKS = `(function(w,d){
var E=w.EventTarget&&w.EventTarget.prototype;
if(!E||!w.WeakSet||!Event.prototype.composedPath)return;
var add=E.addEventListener,answering=new WeakSet(),added=0,parsed=false,kept=null;
E.addEventListener=function(type){
var done=add.apply(this,arguments);
if(type==='click'){answering.add(this==null?w:this);added++;}
return done;
};
function answered(path){return path.some(function(n){return answering.has(n)||typeof n.onclick==='function';});}
function own(n){
var name=n.localName;
if(name==='a'||name==='area'){var to=n.getAttribute('href');return to!==null&&to.charAt(0)!=='#';}
if(name==='button')return !!n.form&&n.type!=='button';
return /^(input|select|option|textarea|label|summary|video|audio|iframe)$/.test(name||'')||n.isContentEditable===true;
}
function look(){
if(!kept)return;
if(Date.now()-kept.at>${KEPT_FOR_MS}||!kept.on.isConnected){kept=null;return;}
if(parsed&&answered(kept.path)){
if(kept.added===added){
var e=kept.event,on=kept.on;
kept=null;
on.dispatchEvent(new MouseEvent('click',{bubbles:true,cancelable:true,composed:true,view:w,detail:1,screenX:e.screenX,screenY:e.screenY,clientX:e.clientX,clientY:e.clientY,ctrlKey:e.ctrlKey,shiftKey:e.shiftKey,altKey:e.altKey,metaKey:e.metaKey}));
return;
}
kept.added=added;
}
setTimeout(look,${LOOK_EVERY_MS});
}
add.call(w,'click',function(e){
if(!e.isTrusted)return;
var path=e.composedPath(),was=kept;
kept=null;
if(answered(path)||path.some(own))return;
kept={on:path[0],path:path,event:e,at:Date.now(),added:-1};
if(!was)setTimeout(look,${LOOK_EVERY_MS});
},true);
add.call(d,'DOMContentLoaded',function(){setTimeout(function(){parsed=true;});});
})(window,document);`;

/** What keeps early clicks of a page whose script no longer holds up what it answers; nothing where policies refuse it. */
export function keepingEarlyClicks({ blocking }: PageScript, { page }: Scene): HeadPart[] {
  if (!blocking || policyRefusal(page, [['script']])) return [];
  return [{ text: EARLY_CLICKS, title: 'What does early clicks again once they are answered' }];
}
