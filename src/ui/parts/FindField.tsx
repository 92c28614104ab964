'use client';

/** A small field that finds rows by a part of what they say. @param label what it finds, for those who hear it */
export function FindField({
  label,
  value,
  width = 130,
  placeholder = 'Find by name',
  onFind,
}: {
  label: string;
  value: string;
  width?: number;
  placeholder?: string;
  onFind: (word: string) => void;
}) {
  return (
    <input
      className="small-field"
      style={{ width }}
      aria-label={label}
      placeholder={placeholder}
      value={value}
      onChange={(event) => onFind(event.target.value)}
    />
  );
}
