import { zodResolver } from '@hookform/resolvers/zod';
import { useState } from 'react';
import { type DefaultValues, type FieldValues, type Resolver, useForm } from 'react-hook-form';
import type { z } from 'zod';
import { ApiRefusal } from './ask';

/**
 * A form of a schema: a faulty field says so next to it, and good values are sent. `refusal` is the server's answer;
 * `busy` during the request.
 */
export function useAskingForm<S extends z.ZodType<FieldValues, FieldValues>>(
  schema: S,
  start: z.output<S>,
  send: (values: z.output<S>) => Promise<unknown>,
) {
  // A form begins whole, so what is in it has the schema’s output all along.
  const { control, handleSubmit } = useForm<z.output<S>, unknown, z.output<S>>({
    defaultValues: start as DefaultValues<z.output<S>>,
    resolver: zodResolver(schema) as unknown as Resolver<z.output<S>, unknown, z.output<S>>,
  });
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const [busy, setBusy] = useState(false);
  /** Sends, and keeps what the server said of it. */
  const sent = async (values: z.output<S>) => {
    setBusy(true);
    setRefusal(null);
    try {
      await send(values);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    } finally {
      setBusy(false);
    }
  };
  return { control, submit: handleSubmit(sent), sent, refusal, busy };
}
