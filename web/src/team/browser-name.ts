/**
 * A browser by the names that people know, from what it calls itself (RFC 9110, section 10.1.5: products in a row, the
 * most telling last or first).
 */
export function browserName(agent: string): string {
  const known: readonly (readonly [RegExp, string])[] = [
    [/Firefox\/(\d+)/, 'Firefox'],
    [/Edg\/(\d+)/, 'Edge'],
    [/(?:Headless)?Chrom(?:e|ium)\/(\d+)/, 'Chromium'],
    [/Version\/(\d+).*Safari/, 'Safari'],
  ];
  for (const [pattern, name] of known) {
    const version = pattern.exec(agent)?.[1];
    if (version !== undefined)
      return `${name} ${version}${/Windows|Macintosh|Linux/.exec(agent)?.[0].replace(/^/, ' on ').replace('Macintosh', 'Mac') ?? ''}`;
  }
  return agent.slice(0, 60) || 'no browser';
}
