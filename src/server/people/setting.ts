/** How this server is reached, and whether people have to sign in: what the environment says. */

/** Addresses that mean this machine alone. */
export const LOOPBACK = ['127.0.0.1', 'localhost', '::1', '[::1]'];

/** The address this server listens on. */
export function boundHost(): string {
  return process.env.HOST ?? '127.0.0.1';
}

/** The address under which people reach this server, where something stands before it, such as https://basket.example.org; null where nothing does. */
export function publicUrl(): URL | null {
  const { PUBLIC_URL: text } = process.env;
  if (!text) return null;
  try {
    return new URL(text);
  } catch {
    throw new Error(`PUBLIC_URL is "${text}", which is no address, such as https://basket.example.org.`);
  }
}

/** Whether only this machine reaches the server: nothing stands before it, and it listens nowhere else. */
export function isOnlyHere(): boolean {
  return LOOPBACK.includes(boundHost()) && publicUrl() === null;
}

/** Whether people have to sign in. Where only this machine comes in that is as one likes (ACCOUNTS=on); elsewhere it is always so. */
export function accountsAreOn(): boolean {
  return process.env.ACCOUNTS === 'on' || !isOnlyHere();
}

/** Whether passwords and cookies travel encrypted: a cookie is then never sent otherwise. */
export function isEncrypted(): boolean {
  return publicUrl()?.protocol === 'https:';
}

/** Whether passwords would travel as plain text over a network. */
export function passwordsAreOpen(): boolean {
  return accountsAreOn() && !isEncrypted() && !isOnlyHere();
}

/** Where this server itself is to be had. */
export function boundAddress(): string {
  const host = boundHost();
  const named = host.includes(':') && !host.startsWith('[') ? `[${host}]` : host;
  return `http://${named}:${process.env.PORT ?? '4321'}`;
}

/** The address that links are made for. */
export function ownAddress(): string {
  return publicUrl()?.origin ?? boundAddress();
}
