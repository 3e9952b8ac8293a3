/** Takes a token out of the address, so that it does not stay in the address bar, the history or a screenshot. */
export function takeHash(): string {
  const token = location.hash.slice(1);
  if (token) history.replaceState(history.state, '', location.pathname);
  return token;
}
