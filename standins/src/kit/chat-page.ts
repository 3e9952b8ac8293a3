import type { Express, Request, Response } from 'express';
import * as z from 'zod';
import type { ChatRoom } from './chat-room';
import { refuseInvalid } from './place';

/** The public chat beside a page: read by polling, written to by anybody under any name. */
export const CHAT_HTML = `<section aria-labelledby="chat-title">
<h2 id="chat-title">Chat</h2>
<ol id="chat"></ol>
<form id="say"><label>Name <input name="name" value="A passer-by" maxlength="40"></label>
<label>Message <input name="text" maxlength="400" required></label> <button>Write</button></form>
</section>`;

const Said = z.strictObject({ name: z.string().min(1).max(40), text: z.string().min(1).max(400) });

/** @param find the chat of a page by its slug; null: there is none, or it is closed */
export function serveChatPage(http: Express, prefix: string, find: (slug: string) => ChatRoom | null): void {
  http.get(`${prefix}/:slug/chat`, (req, res) => {
    const room = find(req.params.slug);
    if (!room) res.status(404).json({ message: 'there is no chat here' });
    else {
      const { after } = req.query;
      const seen = room.after(typeof after === 'string' ? after : null).filter(({ hidden }) => !hidden);
      res.json({ messages: seen.slice(-200) });
    }
  });
  http.post(`${prefix}/:slug/chat`, (req, res) => {
    const room = find(req.params.slug);
    const said = Said.safeParse(req.body);
    if (!room || !said.success) {
      res.status(room ? 422 : 404).json({ message: 'a name and a message of at most 400 characters' });
      return;
    }
    const author = { id: `page-${said.data.name}`, name: said.data.name, owner: false };
    res.status(201).json(room.write(author, said.data.text));
  });
}

/** The owner's way of hiding: `PUT` with `hidden`. */
export function answerHide(req: Request, res: Response, room: ChatRoom): void {
  const wish = z.strictObject({ hidden: z.boolean() }).safeParse(req.body);
  const changed = wish.success ? room.hide(String(req.params['message']), wish.data.hidden) : null;
  if (!wish.success) refuseInvalid(res, wish.error);
  else if (!changed) res.status(404).json({ error: 'not_found', message: 'There is no such message.' });
  else res.json(changed);
}

/** The console's way of writing: whatever is wanted, at any length, for rehearsals of what a place lets through. */
export function serveChatConsole(http: Express, current: () => ChatRoom | null): void {
  http.post('/console/chat', (req, res) => {
    const said = z.strictObject({ name: z.string(), text: z.string() }).parse(req.body);
    const room = current();
    if (!room) res.status(409).json({ message: 'there is no chat now' });
    else res.json(room.write({ id: `console-${said.name}`, name: said.name, owner: false }, said.text));
  });
  http.get('/console/chat', (_req, res) => {
    res.json({ messages: current()?.after(null) ?? [] });
  });
}
