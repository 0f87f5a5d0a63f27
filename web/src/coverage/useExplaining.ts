/** Saying why something was not, or will not be, watched. */
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';

/** A reason on its way: typed, sent with what it is about, and empty again once it stands. */
export function useExplaining() {
  const client = useQueryClient();
  const [reason, setReason] = useState('');
  const say = useMutation({
    mutationFn: (about: object) => post('/gaps/explanations', { ...about, reason }),
    onSuccess: () => {
      setReason('');
      return askAnew(client, ['explanations', 'gaps']);
    },
  });
  return { reason, setReason, say, isSayable: reason.trim() !== '' && !say.isPending };
}
