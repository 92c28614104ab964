import { attributeValue } from '../../core/html/markup.ts';

/** What stands over a page that is looked at by hand. */
export interface ShellWords {
  /** What it is: "Home, treated". */
  title: string;
  /** Where it comes from. */
  about: string;
}

/** What is written down of what is done on the page, and for whom. */
export interface ShellRecorder {
  /** The origin of the page in the frame. */
  page: string;
  /** The origin of the application, in whose window this one was opened. */
  application: string;
  /** By it our script is let through. */
  nonce: string;
}

/** What clicking through a page needs: its scripts, forms and messages, and storage of an origin of its own. It leads nowhere else and opens no windows. */
const SANDBOX = 'allow-scripts allow-same-origin allow-forms allow-modals';

/** What a captured page may reach (CSP 3): its own hosts as they are served here. @param ours their addresses, as a pattern */
export function pagePolicy(ours: string): string {
  const own = `'self' ${ours}`;
  return [
    `sandbox ${SANDBOX}`,
    `default-src ${own} data: blob: 'unsafe-inline' 'unsafe-eval'`,
    `base-uri ${own}`,
    `form-action ${own}`,
    `frame-ancestors ${own}`,
    "object-src 'none'",
  ].join('; ');
}

/** What our document around it may: show those hosts in a frame, which then go nowhere else in it. */
export function shellPolicy(ours: string, recorder: ShellRecorder | null): string {
  const script = recorder ? `script-src 'nonce-${recorder.nonce}'; ` : '';
  return `default-src 'none'; ${script}style-src 'unsafe-inline'; frame-src ${ours}; frame-ancestors 'none'; base-uri 'none'; form-action 'none'`;
}

/** Our document around a page: a line that says what it is, the recorder where something is written down, and the page in a frame. */
export function shellDocument(
  page: string,
  { title, about }: ShellWords,
  recorder: ShellRecorder | null,
): string {
  return `<!DOCTYPE html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${attributeValue(title)}</title>
<style>
html, body { height: 100%; margin: 0 }
body { display: flex; flex-direction: column; font: 14px/1.4 system-ui, sans-serif; color: #1e2a32; background: #f8f5ef }
p { margin: 0; padding: 7px 12px; border-bottom: 1px solid #dcd6c8 }
b { margin-right: 10px }
button { font: inherit; padding: 3px 10px; margin-right: 8px; border: 1px solid #6b6558; background: #fff; color: inherit }
button:disabled { color: #6f6a5e; border-color: #cfc8b8; background: none }
:focus-visible { outline: 2px solid #1f5d6b; outline-offset: 1px }
iframe { flex: 1; width: 100%; border: 0; background: #fff }
</style>
<p><b>${attributeValue(title)}</b>${attributeValue(about)}</p>
${recorder ? recorderBar(recorder) : ''}<iframe title="${attributeValue(title)}" sandbox="${SANDBOX}" src="${attributeValue(page)}"></iframe>${recorder ? recorderScript(recorder) : ''}</html>
`;
}

function recorderBar({ application }: ShellRecorder): string {
  return `<p><b>Check</b><span id="line" role="status">Press and type on the page as a visitor would; it is written down here.</span></p>
<p><button id="see" disabled>Note what is to be seen</button><button id="back" disabled>Take back the last step</button><button id="use" disabled>Use this check</button><span id="told" role="status">Waiting for the page. The check goes to Wistrel at ${attributeValue(application)}.</span></p>
`;
}

/** What comes from the page is shown as text, and passed on when its user says so. */
function recorderScript({ page, application, nonce }: ShellRecorder): string {
  const [from, to] = [page, application].map((one) => JSON.stringify(one).replaceAll('<', '\\u003c'));
  return `<script nonce="${nonce}">(function () {
var frame = document.querySelector('iframe'), steps = [], ready = false;
var line = document.getElementById('line'), told = document.getElementById('told');
var see = document.getElementById('see'), back = document.getElementById('back'), use = document.getElementById('use');
function show() {
  line.textContent = steps.length ? steps.join(', ') : 'Press and type on the page as a visitor would; it is written down here.';
  back.disabled = steps.length === 0;
  use.disabled = !steps.some(function (one) { return one.indexOf('see ') === 0; });
}
function tell(text) { told.textContent = text; }
function begin() { if (!ready) tell('Note at the end what is to be seen then: a check without that decides nothing.'); ready = true; see.disabled = false; }
addEventListener('message', function (event) {
  var said = event.source === frame.contentWindow && event.origin === ${from} && event.data && event.data.wistrel;
  if (!said) return;
  begin();
  if (said.kind === 'told') tell(String(said.text).slice(0, 200));
  if (said.kind !== 'step' || steps.length >= 12) return;
  steps.push(String(said.text).slice(0, 200).replace(/\\s+/g, ' '));
  show();
  tell(use.disabled ? 'Note at the end what is to be seen then: a check without that decides nothing.' : 'Use this check, or go on with it.');
});
see.onclick = function () { frame.contentWindow.postMessage({ wistrel: 'pick' }, ${from}); tell('Click what is to be seen now: the page does not get that click.'); };
back.onclick = function () { steps.pop(); show(); };
use.onclick = function () {
  if (!window.opener) return tell('The window that this one was opened from is closed. Copy the line above.');
  window.opener.postMessage({ wistrelCheck: steps.join(', ') }, ${to});
  tell('Written into the list of checks. Keep it there, or go on with another.');
  steps = [];
  show();
};
setTimeout(function () { if (!ready) tell('Nothing can be written down here: a policy of the page keeps our script out. Write the check by hand.'); }, 8000);
})();</script>`;
}
