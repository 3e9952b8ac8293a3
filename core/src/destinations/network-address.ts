import ipaddr from 'ipaddr.js';

/**
 * Whether a network address lies outside: not this machine, not its own network, not one that is reserved. Feeds and
 * requests go to no other unless the house allows it. By IANA's registries of special-purpose addresses (RFC 6890).
 * False for what is no address.
 */
export function isPublicAddress(address: string): boolean {
  if (!ipaddr.isValid(address)) return false;
  // An IPv4 address in IPv6's clothes is judged as what it is.
  return ipaddr.process(address).range() === 'unicast';
}

/** Whether a host is given as an address, so that nothing has to be looked up. */
export const isAddress = (host: string): boolean => ipaddr.isValid(host);
