import {
  startAuthentication,
  startRegistration,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
} from '@simplewebauthn/browser'
import { askForPasskey, askForSignIn, makePasskey, signInByPasskey } from '../api'
import { Problem } from '../api/client'
import type { PasskeysView } from '../api/schema.gen'

/** Keys are kept for names, not for addresses: on this machine by its name, and under .local. */
export const keysHere = (): boolean =>
  'PublicKeyCredential' in window && (location.hostname === 'localhost' || location.hostname.endsWith('.local'))

/** What a device says when nobody touches it, in plain words. */
async function onDevice<T>(asking: Promise<T>): Promise<T> {
  try {
    return await asking
  } catch (error) {
    throw new Problem(
      400,
      'No key',
      error instanceof Error && error.name === 'InvalidStateError'
        ? 'This device holds a key of yours already.'
        : 'The device gave no key: it was not touched in time, or holds none for here. Try again, or use the password.',
      'passkey.none',
    )
  }
}
const plain = (value: object): Record<string, unknown> => JSON.parse(JSON.stringify(value)) as Record<string, unknown>

export async function makeKey(label: string): Promise<PasskeysView> {
  const optionsJSON = (await askForPasskey()) as unknown as PublicKeyCredentialCreationOptionsJSON
  return makePasskey(plain(await onDevice(startRegistration({ optionsJSON }))), label)
}
export async function signInByKey(): Promise<void> {
  const optionsJSON = (await askForSignIn()) as unknown as PublicKeyCredentialRequestOptionsJSON
  await signInByPasskey(plain(await onDevice(startAuthentication({ optionsJSON }))))
}
