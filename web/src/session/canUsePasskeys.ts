/** Whether this browser takes passkeys for this address: by TLS or on this machine, and with a name (Web Authentication, section 5). */
export function canUsePasskeys(): boolean {
  const isName = /[a-z]/i.test(location.hostname) && !location.hostname.includes(':');
  return window.isSecureContext && isName && 'PublicKeyCredential' in window;
}
