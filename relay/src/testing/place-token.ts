/** A token of a stand-in place for the grant that it was started with, asked for as RFC 6749, 6 says. */
export async function tokenAtPlace(url: string, grant: string): Promise<string> {
  const body = new URLSearchParams({ grant_type: 'refresh_token', refresh_token: grant });
  const response = await fetch(`${url}/token`, { method: 'POST', body });
  if (!response.ok) throw new Error(`/token answered ${response.status}`);
  return ((await response.json()) as { access_token: string }).access_token;
}
