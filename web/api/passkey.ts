import { accessEndpoints, type SentTo } from '@ulkret/contract';
import { ApiRefusal, ask } from './ask';

/** Browsers make passkeys over HTTPS and on localhost alone. */
export const knowsPasskeys = (): boolean => window.isSecureContext && 'PublicKeyCredential' in window;

type Answer = SentTo<typeof accessEndpoints.signInByPasskey>['body']['passkey'];

const browser = () => import('@simplewebauthn/browser');

/** What the device says where it gave nothing, as a refusal. */
function withdrawn(error: unknown): never {
  if (error instanceof ApiRefusal) throw error;
  throw new ApiRefusal(422, 'No passkey was given.', 'Try again, or use your password.');
}

/** An answer of a passkey on this device to a challenge of the server. Throws `ApiRefusal`. */
export async function passkeyAnswer(): Promise<Answer> {
  const options = await ask(accessEndpoints.challenge);
  const { startAuthentication } = await browser();
  const answered = await startAuthentication({ optionsJSON: options as never }).catch(withdrawn);
  return answered as unknown as Answer;
}

/** A passkey that this device makes for whom is signed in. Throws `ApiRefusal`. */
export async function makePasskey() {
  const options = await ask(accessEndpoints.passkeyOptions);
  const { startRegistration } = await browser();
  const made = await startRegistration({ optionsJSON: options as never }).catch(withdrawn);
  return ask(accessEndpoints.addPasskey, { body: { made: made as unknown as Answer } });
}
