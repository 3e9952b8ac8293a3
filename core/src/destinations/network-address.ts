import ipaddr from 'ipaddr.js';

/** Special by IANA's registries (RFC 6890), and called unicast by the library. */
const SPECIAL_IPV4 = ['198.18.0.0/15', '192.88.99.0/24'].map((range) => ipaddr.IPv4.parseCIDR(range));
/** All of IPv6 that is given out to networks lies within this (RFC 4291, 2.4) … */
const GLOBAL_IPV6 = ipaddr.IPv6.parseCIDR('2000::/3');
/** … but for protocols' own, documentation, and IPv4 in other clothes that nobody uses any longer. */
const SPECIAL_IPV6 = ['2001::/23', '2001:db8::/32', '2002::/16', '3fff::/20'].map((range) =>
  ipaddr.IPv6.parseCIDR(range),
);
/** An IPv4 address as networks without IPv4 reach it (RFC 6052, 2.1): it is judged as what it is. */
const NAT64 = ipaddr.IPv6.parseCIDR('64:ff9b::/96');

/**
 * Whether a network address lies outside: not this machine, not its own network, not one that is reserved. Feeds and
 * requests go to no other unless the house allows it. False for what is no address.
 */
export function isPublicAddress(address: string): boolean {
  if (!ipaddr.isValid(address)) return false;
  // An IPv4 address in IPv6's clothes is judged as what it is.
  const found = ipaddr.process(address);
  if (found instanceof ipaddr.IPv4) return isPublicIpv4(found);
  const ipv6 = found;
  if (ipv6.match(NAT64)) return isPublicIpv4(new ipaddr.IPv4(ipv6.toByteArray().slice(12)));
  return ipv6.match(GLOBAL_IPV6) && !SPECIAL_IPV6.some((range) => ipv6.match(range));
}

const isPublicIpv4 = (address: ipaddr.IPv4): boolean =>
  address.range() === 'unicast' && !SPECIAL_IPV4.some((range) => address.match(range));

/** Whether a host is given as an address, so that nothing has to be looked up. */
export const isAddress = (host: string): boolean => ipaddr.isValid(host);
