import type { PageCheck } from '@/core/checks/page-check';

const LINE = {
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr) 140px',
  gap: 12,
  padding: '4px 0',
  borderTop: '1px solid var(--line)',
  overflowWrap: 'anywhere',
} as const;

/** What was done on the page as treated and as authored, and what it came to. */
export function DeedList({ deeds }: { deeds: readonly PageCheck[] }) {
  return (
    <ul aria-label="Done on it as a visitor would" style={{ listStyle: 'none', margin: 0, padding: 0 }}>
      <li aria-hidden className="muted" style={{ ...LINE, borderTop: 'none' }}>
        <span>Done</span>
        <span>What it came to as authored</span>
        <span>As treated</span>
      </li>
      {deeds.map(({ words, effect, undecided }) => (
        <li key={words} style={LINE}>
          <span>{words}</span>
          <span>{effect}</span>
          <span>{undecided ? <b>undecided: {undecided}</b> : 'the same'}</span>
        </li>
      ))}
    </ul>
  );
}
