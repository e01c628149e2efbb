/** Networks: which addresses are one's own, and which of them are allowed. */
import ipaddr from 'ipaddr.js';

/** An address or a network as somebody writes it, `10.1.0.0/16` or `::1`. */
function networkOf(text: string): [ipaddr.IPv4 | ipaddr.IPv6, number] | undefined {
  try {
    if (text.includes('/')) return ipaddr.parseCIDR(text);
    const address = ipaddr.parse(text);
    return [address, address.kind() === 'ipv4' ? 32 : 128];
  } catch {
    return undefined;
  }
}

/** Whether a text names an address or a network. */
export function isNetwork(text: string): boolean {
  return networkOf(text) !== undefined;
}

/**
 * Whether an address may be asked from a server: one of the public internet, or one of the networks
 * that are allowed. Loopback, private, link-local, carrier, documentation and mapped ones are not.
 */
export function mayBeAsked(address: string, allowed: readonly string[]): boolean {
  if (!ipaddr.isValid(address)) return false;
  // An IPv4 address within an IPv6 one is what it stands for.
  const asked = ipaddr.process(address);
  if (asked.range() === 'unicast') return true;
  return allowed.some((text) => {
    const [network, bits] = networkOf(text) ?? [];
    return (
      network !== undefined &&
      bits !== undefined &&
      network.kind() === asked.kind() &&
      asked.match(network, bits)
    );
  });
}
