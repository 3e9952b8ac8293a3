import express, { type Express, type Response } from 'express';
import * as z from 'zod';
import { escapeHtml, page } from './pages';
import type { Tokens } from './tokens';

/** Where its owner lets an application in (RFC 6749, 4.1, with RFC 7636). */
export interface ConsentParts {
  /** As it calls itself. */
  readonly place: string;
  readonly accounts: readonly { readonly id: string; readonly name: string }[];
  /** What can be asked for, and what that means to the account's owner. */
  readonly scopes: Readonly<Record<string, string>>;
  /** The visibilities that the owner can limit the application to, the widest first; empty: none. */
  readonly widest: readonly string[];
  readonly tokens: Tokens;
}

/** The one application that is registered here, and from where it may be reached: REDIRECT_ORIGINS, by commas. */
const CLIENT_ID = 'juncta';
const origins = (process.env['REDIRECT_ORIGINS'] ?? '').split(',').filter(Boolean);

const Asked = z.object({
  response_type: z.literal('code'),
  client_id: z.literal(CLIENT_ID),
  redirect_uri: z.url().refine((uri) => origins.includes(new URL(uri).origin), 'is not registered'),
  state: z.string().min(8).max(200),
  scope: z.string(),
  code_challenge: z.string().length(43),
  code_challenge_method: z.literal('S256'),
});
const Decided = z.object({
  decision: z.enum(['allow', 'refuse']),
  account: z.string(),
  scopes: z.union([z.string(), z.array(z.string())]).default([]),
  widest: z.string().optional(),
});

export function serveConsent(http: Express, parts: ConsentParts): void {
  http.get('/authorise', (req, res) => {
    const asked = Asked.safeParse(req.query);
    // Never sent back to an address that is not registered.
    if (!asked.success) refuse(res, parts.place, asked.error);
    else res.type('html').send(consentPage(parts, asked.data));
  });
  http.post('/authorise', express.urlencoded({ extended: false, limit: '8kb' }), (req, res) => {
    const asked = Asked.safeParse(req.query);
    const decided = Decided.safeParse(req.body);
    if (!asked.success) {
      refuse(res, parts.place, asked.error);
      return;
    }
    if (!decided.success) {
      refuse(res, parts.place, decided.error);
      return;
    }
    const { redirect_uri, state, code_challenge } = asked.data;
    const { decision, account, scopes, widest = null } = decided.data;
    const back = new URL(redirect_uri);
    back.searchParams.set('state', state);
    const known = parts.accounts.some(({ id }) => id === account);
    if (decision === 'refuse' || !known) back.searchParams.set('error', 'access_denied');
    else {
      const asking = asked.data.scope.split(' ');
      const granted = [scopes].flat().filter((scope) => asking.includes(scope) && scope in parts.scopes);
      const wish = { account, scopes: granted, widest: parts.widest.length > 0 ? widest : null };
      const code = parts.tokens.code(wish, redirect_uri, code_challenge, Date.now());
      back.searchParams.set('code', code);
    }
    res.redirect(303, back.href);
  });
}

function refuse(res: Response, place: string, error: z.ZodError): void {
  const [first] = error.issues;
  const what = `${first!.path.join('.')}: ${first!.message}`;
  const body = `<h1>This cannot be asked for</h1><p>${escapeHtml(what)}</p>`;
  res
    .status(400)
    .type('html')
    .send(page({ place, title: 'Not possible', body }));
}

function consentPage(parts: ConsentParts, asked: z.infer<typeof Asked>): string {
  const wanted = asked.scope.split(' ').filter((scope) => scope in parts.scopes);
  const accounts = parts.accounts
    .map(
      ({ id, name }, i) =>
        `<p><label><input type="radio" name="account" value="${escapeHtml(id)}"${i === 0 ? ' checked' : ''}> ${escapeHtml(name)}</label></p>`,
    )
    .join('\n');
  const scopes = wanted
    .map(
      (scope) =>
        `<p><label><input type="checkbox" name="scopes" value="${escapeHtml(scope)}" checked> ${escapeHtml(parts.scopes[scope]!)}</label></p>`,
    )
    .join('\n');
  const widest = parts.widest
    .map((one) => `<option value="${escapeHtml(one)}">${escapeHtml(one)}</option>`)
    .join('');
  const body = `<h1>Let an application in</h1>
<p>The application <strong>${CLIENT_ID}</strong> at ${escapeHtml(new URL(asked.redirect_uri).host)} asks for access to an account of yours at ${escapeHtml(parts.place)}.</p>
<form method="post" style="display: block">
<fieldset><legend>As which account?</legend>${accounts}</fieldset>
<fieldset><legend>It may</legend>${scopes}</fieldset>
${widest ? `<p><label>Its posts are seen at the widest by <select name="widest">${widest}</select></label> This cannot be changed later without letting it in anew.</p>` : ''}
<p><button name="decision" value="allow">Let it in</button> <button name="decision" value="refuse">No</button></p>
</form>`;
  return page({ place: parts.place, title: 'Let an application in', body });
}
