import {
  browserSupportsWebAuthn,
  startAuthentication,
  startRegistration,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
} from '@simplewebauthn/browser';
import type { Schemas } from '../../api/client';

/** Whether this browser can ask a device for a passkey. */
export const passkeysWork = browserSupportsWebAuthn;

/** What somebody hears when the device's question was closed, or the device has no passkey for this server. */
const NONE = 'The device showed no passkey. Try again, or type a code.';

type Asked = Schemas['AskedOfDevice'];
/** What a device answers, as it goes to the server. */
type Answered = Schemas['NewPasskey']['credential'];

async function orSay<T>(shown: Promise<T>): Promise<T> {
  try {
    return await shown;
  } catch (error) {
    throw new Error(NONE, { cause: error });
  }
}

/** Lets the device make a passkey. */
export async function makePasskey(asked: Asked): Promise<Answered> {
  const optionsJSON = asked.publicKey as unknown as PublicKeyCredentialCreationOptionsJSON;
  return (await orSay(startRegistration({ optionsJSON }))) as unknown as Answered;
}

/** Lets the device show a passkey. */
export async function showPasskey(asked: Asked): Promise<Answered> {
  const optionsJSON = asked.publicKey as unknown as PublicKeyCredentialRequestOptionsJSON;
  return (await orSay(startAuthentication({ optionsJSON }))) as unknown as Answered;
}
