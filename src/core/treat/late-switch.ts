/** Names, on a late sheet's link, what the sheet is for once it is there. */
export const LATE_MEDIA = 'data-late-media';

/**
 * The inline script that lets late sheets apply where a policy refuses attributes that do: it stands before their
 * links, since of a sheet that comes from the cache nothing is told a second time. (What is told of an element as it
 * loads passes the document on its way there.)
 */
export const LATE_SWITCH = `document.addEventListener('load',function(e){
var link=e.target,media=link.getAttribute&&link.getAttribute('${LATE_MEDIA}');
if(media){link.removeAttribute('${LATE_MEDIA}');link.media=media;}
},true);`;

/**
 * Runs when the sheets that hold scripts are there, before any script that waited for them: late sheets apply now, not
 * by events that may come after those scripts, and what held them goes.
 */
export const HOLD_ENDS = `(function(script){
document.querySelectorAll('link[media=print][onload*="this.media="],link[${LATE_MEDIA}]').forEach(function(link){
if(!link.sheet)return;
var media=link.getAttribute('${LATE_MEDIA}');
if(media){link.removeAttribute('${LATE_MEDIA}');link.media=media;}else if(link.onload)link.onload();
});
script.previousElementSibling.remove();script.remove();
})(document.currentScript);`;
