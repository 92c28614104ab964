'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import type { ReactNode } from 'react';

/** A dialog that holds one form: its title, its fields, the way back and the way on. */
export function FormDialog({
  title,
  save,
  disabled,
  back = 'Cancel',
  wide = false,
  aside,
  onSave,
  onClose,
  children,
}: {
  title: ReactNode;
  /** What the button that goes on is called. */
  save: string;
  disabled: boolean;
  back?: string;
  wide?: boolean;
  /** Another button, before the two. */
  aside?: ReactNode;
  onSave: () => void;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth={wide ? 'sm' : 'xs'} aria-labelledby="dialog-title">
      <form
        style={{ padding: 20, display: 'grid', gap: 12 }}
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          onSave();
        }}
      >
        <h2 id="dialog-title" style={{ margin: 0, fontSize: 16 }}>
          {title}
        </h2>
        {children}
        <div className="row" style={{ justifyContent: 'flex-end', margin: 0 }}>
          {aside}
          <Button variant="outlined" onClick={onClose}>
            {back}
          </Button>
          <Button variant="contained" type="submit" disabled={disabled}>
            {save}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
