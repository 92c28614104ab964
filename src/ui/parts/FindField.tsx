'use client';

/** A small field that finds rows by a part of their name. @param label what it finds, for those who hear it */
export function FindField({
  label,
  value,
  onFind,
}: {
  label: string;
  value: string;
  onFind: (word: string) => void;
}) {
  return (
    <input
      className="small-field"
      style={{ width: 130 }}
      aria-label={label}
      placeholder="Find by name"
      value={value}
      onChange={(event) => onFind(event.target.value)}
    />
  );
}
