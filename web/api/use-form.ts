import { useState } from 'react';
import type { FieldValues } from 'react-hook-form';
import type { z } from 'zod';
import { useSchemaForm } from '../ui/form';
import { ApiRefusal } from './ask';

/**
 * A form of a schema: a faulty field says so next to it, and good values are sent. `refusal` is the server's answer;
 * `busy` during the request.
 */
export function useAskingForm<S extends z.ZodType<FieldValues, FieldValues>>(
  schema: S,
  start: z.output<S>,
  send: (values: z.output<S>, reset: (to: z.output<S>) => void) => Promise<unknown>,
) {
  const { submit, ...form } = useSchemaForm(schema, start);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const [busy, setBusy] = useState(false);
  /** Sends, and keeps what the server said of it. */
  const sent = async (values: z.output<S>) => {
    setBusy(true);
    setRefusal(null);
    try {
      await send(values, form.reset);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    } finally {
      setBusy(false);
    }
  };
  return { ...form, submit: submit(sent), sent, refusal, busy };
}
