import type { Evidence as Pictures } from '@/store/rehearsals';

const WORDS = {
  authored: 'as authored',
  treated: 'with this rule',
  difference: 'where they differ',
} as const;

/** What shows that a rule is at fault: the page without and with it, each opened whole by a press. */
export function Evidence({ pictures }: { pictures: Pictures }) {
  return (
    <div className="evidence" role="group" aria-label="What rehearsing saw">
      {(['authored', 'treated', 'difference'] as const).map((of) => (
        <figure key={of}>
          <a href={`/api/pictures/picture/${pictures[of]}`} target="_blank" rel="noreferrer">
            <img src={`/api/pictures/picture/${pictures[of]}`} alt={`The page ${WORDS[of]}`} loading="lazy" />
          </a>
          <figcaption className="muted">{WORDS[of]}</figcaption>
        </figure>
      ))}
    </div>
  );
}
