'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';

/** Copies a text and says so. */
export function CopyButton({ text, label = 'Copy' }: { text: string; label?: string }) {
  const [said, setSaid] = useState('');
  return (
    <Button
      variant="outlined"
      onClick={() => {
        navigator.clipboard.writeText(text).then(
          () => setSaid('Copied'),
          () => setSaid('Could not copy: select the text instead'),
        );
        setTimeout(() => setSaid(''), 2_500);
      }}
    >
      {said || label}
    </Button>
  );
}
