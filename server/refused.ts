/** A refusal with its HTTP status; what is thrown anywhere below a route and read by the device. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly todo: string,
    /** Seconds after which to ask again, where that helps. */
    readonly againAfter?: number,
  ) {
    super(message);
  }
}

/** The caller is to prove again who they are: a screen that was left open takes nothing out. */
export class ProveAgain extends Refused {
  constructor() {
    super(
      403,
      'Say again who you are.',
      'Give your password or passkey, then do it again; nothing was changed.',
    );
  }
}

/** More is asked than can be answered in time: the caller may ask again in a moment. */
export class Busy extends Refused {
  constructor(message: string) {
    super(503, message, 'Try again in a few seconds; nothing was changed.', 3);
  }
}

export const notFound = (what: string) =>
  new Refused(404, `There is no ${what}.`, 'Go back to the list and choose again.');

export const nobodyHere = () =>
  new Refused(401, 'Nobody is signed in on this device.', 'Sign in; your entries are safe.');
