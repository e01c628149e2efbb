/** Secrets that have to be read again, such as the key of a service: encrypted where they are kept. */
import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from 'node:crypto';

const FORM = 'v1';
const [NONCE_BYTES, TAG_BYTES] = [12, 16];

/** Seals and opens texts with one secret (AES-256-GCM, its key by HKDF-SHA-256). */
export class Sealer {
  readonly #key: Buffer;

  /** @param secret of the installation; another one opens nothing */
  constructor(secret: string) {
    this.#key = Buffer.from(hkdfSync('sha256', secret, '', 'dravex keys of connections', 32));
  }

  /** @param owner whose it is; opened as somebody else's, it is none */
  seal(text: string, owner: string): string {
    const nonce = randomBytes(NONCE_BYTES);
    const cipher = createCipheriv('aes-256-gcm', this.#key, nonce).setAAD(Buffer.from(owner));
    const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
    const all = Buffer.concat([nonce, cipher.getAuthTag(), sealed]);
    return `${FORM}:${all.toString('base64url')}`;
  }

  /** Whether a text is sealed, by whatever secret. */
  static isSealed(text: string): boolean {
    return text.startsWith(`${FORM}:`);
  }

  /** What was sealed; nothing where another secret sealed it, or it was somebody else's. */
  open(sealed: string, owner: string): string | undefined {
    try {
      const all = Buffer.from(sealed.slice(FORM.length + 1), 'base64url');
      const nonce = all.subarray(0, NONCE_BYTES);
      const tag = all.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES);
      const decipher = createDecipheriv('aes-256-gcm', this.#key, nonce);
      decipher.setAAD(Buffer.from(owner)).setAuthTag(tag);
      const text = decipher.update(all.subarray(NONCE_BYTES + TAG_BYTES));
      return Buffer.concat([text, decipher.final()]).toString('utf8');
    } catch {
      return undefined;
    }
  }
}
