'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';

/** Copies a text and says so. */
export function CopyButton({
  text,
  label = 'Copy',
  primary = false,
}: {
  text: string;
  label?: string;
  primary?: boolean;
}) {
  const [said, setSaid] = useState('');
  return (
    <Button
      variant={primary ? 'contained' : 'outlined'}
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
