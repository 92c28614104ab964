'use client';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../../api';
import { FormDialog } from '../../parts/FormDialog';

/** Names the owner of third-party domains; domains of one name are counted together. */
export function OwnerDialog({ domains, onClose }: { domains: string[]; onClose: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const save = useMutation({
    mutationFn: () => call('/api/owners', { method: 'PUT', body: { domains, name } }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['page'] });
      onClose();
    },
  });
  return (
    <FormDialog
      title={`Whose is ${domains.join(', ')}?`}
      save="Keep it"
      disabled={save.isPending}
      onSave={() => save.mutate()}
      onClose={onClose}
    >
      <TextField
        label="Owner"
        name="owner"
        autoFocus
        value={name}
        onChange={(event) => setName(event.target.value)}
        error={save.isError}
        helperText={
          save.error?.message ??
          'Domains of one owner are counted together, on every page. Left empty, each domain stands for itself.'
        }
      />
    </FormDialog>
  );
}
