/**
 * Arithmetic, text and objects in the mix of ordinary page scripts, and parsing a script that the
 * browser has not seen before. The clock is asked once a round: on some machines asking it is dear.
 *
 * @returns rounds a second
 */
export function scriptRounds(forMs: number): number {
  const words = ['ferry', 'island', 'harbour', 'sailing', 'timetable', 'gale'];
  let source = '';
  for (let at = 0; at < 40; at++)
    source += `function f${at}(a,b){var c={id:a,name:"n${at}",list:[a,b,${at}]};if(a>b){return c.list.map(function(x){return x*2+${at};});}for(var i=0;i<b;i++){c.id+=i%3?i:-i;}return c.id+f${Math.max(0, at - 1)}.length;}\n`;
  let rounds = 0;
  let kept = 0;
  const start = performance.now();
  let now = start;
  while (now - start < forMs) {
    for (let i = 0; i < 2_000; i++) {
      const record = { id: rounds + i, name: words[(rounds + i) % words.length]!, tags: [i, kept & 7] };
      const text = `${record.name}-${record.id}`.toUpperCase();
      kept = (kept * 31 + text.length * text.charCodeAt(2) + record.tags.length) % 1_000_003;
    }
    kept += (new Function(`/*${rounds}*/${source}return f0(1,2);`) as () => number)();
    rounds++;
    now = performance.now();
  }
  // What is kept has to be able to matter, or the work might be left out.
  return kept === -1 ? 0 : (rounds * 1_000) / (now - start);
}

/**
 * Matches some hundred rules to some thousand elements and lays them out, again and again.
 *
 * @returns rounds a second
 */
export function pageRounds(forMs: number): number {
  const style = document.createElement('style');
  let css = '.grid{display:flex;flex-wrap:wrap;width:900px}';
  for (let i = 0; i < 300; i++)
    css += `.g${i % 60} .i${i}{padding:${i % 5}px}.g${i % 60}>.i${i}:nth-child(odd) b{color:#${100 + i}}.on .i${i}{margin-left:${i % 4}px}`;
  style.textContent = css;
  document.head.append(style);
  const grid = document.createElement('div');
  grid.className = 'grid';
  for (let group = 0; group < 60; group++) {
    const section = document.createElement('section');
    section.className = `g${group}`;
    for (let at = 0; at < 16; at++) {
      const item = document.createElement('div');
      item.className = `i${(group * 16 + at) % 300}`;
      item.innerHTML = `<b>${group}</b> sailing <i>${at}</i>`;
      section.append(item);
    }
    grid.append(section);
  }
  document.body.append(grid);
  let kept = grid.offsetHeight;
  let rounds = 0;
  const start = performance.now();
  let now = start;
  while (now - start < forMs) {
    grid.classList.toggle('on');
    grid.style.width = `${700 + (rounds % 3) * 60}px`;
    kept += grid.offsetHeight;
    rounds++;
    now = performance.now();
  }
  grid.remove();
  style.remove();
  return kept === -1 ? 0 : (rounds * 1_000) / (now - start);
}
