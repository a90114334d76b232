const octets = (host: string): readonly number[] | undefined => {
  const parts = host.split('.');
  const numbers = parts.map((part) => (/^\d{1,3}$/.test(part) ? Number(part) : NaN));
  return parts.length === 4 && numbers.every((each) => each <= 255) ? numbers : undefined;
};

/**
 * Whether an address is on this computer or in a private network: loopback (RFC 1122, RFC 4291), private (RFC 1918), link-local
 * (RFC 3927, RFC 4291) or unique local (RFC 4193). A name other than `localhost` can stand for any address, so it is not.
 */
export function isNearHost(host: string): boolean {
  const name = host.toLowerCase();
  if (name === 'localhost' || name === '::1') return true;
  if (name.includes(':')) return /^(f[cd][0-9a-f]{2}|fe[89ab][0-9a-f]):/.test(name);
  const [first = -1, second = -1] = octets(name) ?? [];
  return (
    first === 127 ||
    first === 10 ||
    (first === 172 && second >= 16 && second <= 31) ||
    (first === 192 && second === 168) ||
    (first === 169 && second === 254)
  );
}
