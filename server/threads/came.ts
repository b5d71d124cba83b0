interface Broken {
  message: string;
  name?: string | undefined;
  code?: string | undefined;
}

/** The result of a question to a thread. An error loses its name, its code and its cause between threads, so they travel along. */
export type Came<T> = { told: T } | { broke: Broken & { stack: string; cause: Broken | null } };

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
    } = error as Omit<Error, 'cause'> & {
      code?: string;
      cause?: Broken;
    };
    return {
      broke: {
        message,
        name,
        code,
        stack,
        cause: cause ? { message: cause.message, code: cause.code } : null,
      },
    };
  }
}

/** What came of it, on the other side: told, or thrown. */
export function arrived<T>(came: Came<T>): T {
  if ('told' in came) return came.told;
  const { cause, ...broke } = came.broke;
  throw revived(broke, cause ? revived(cause) : undefined);
}

const revived = ({ message, ...told }: Broken, cause?: Error): Error =>
  Object.assign(new Error(message, { cause }), told);
