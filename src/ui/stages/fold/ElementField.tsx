'use client';
import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';

/** Finds an element above the fold by its selector: what pointing at the picture does, by keyboard. */
export function ElementField({
  selectors,
  selector,
  onSelect,
}: {
  selectors: readonly string[];
  selector: string | null;
  onSelect: (selector: string | null) => void;
}) {
  return (
    <Autocomplete
      size="small"
      options={selectors}
      value={selector}
      onChange={(_event, value) => onSelect(value)}
      renderInput={(input) => <TextField {...input} label="Element above the fold" />}
    />
  );
}
