/** The result of a question to a thread. An error loses its name and its code between threads, so they travel along. */
export type Came<T> =
  { told: T } | { broke: { message: string; name: string; code: string | undefined; stack: string } };

export async function came<T>(told: Promise<T>): Promise<Came<T>> {
  try {
    return { told: await told };
  } catch (error) {
    const {
      message,
      name,
      stack = '',
      code,
      cause,
    } = error as Error & { code?: string; cause?: { code?: string } };
    return { broke: { message, name, code: code ?? cause?.code, stack } };
  }
}

/** What came of it, on the other side: told, or thrown. */
export function arrived<T>(came: Came<T>): T {
  if ('told' in came) return came.told;
  const { message, ...broke } = came.broke;
  throw Object.assign(new Error(message), broke);
}
