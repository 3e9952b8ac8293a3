import type { Express, Request, Response } from 'express';
import * as z from 'zod';
import { MESSAGE_KINDS, type ChatRoom, type Message, type RoomRules } from './chat-room';
import { flood, FLOOD_KINDS } from './flood';
import { refuseInvalid } from '../place';

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
      const told = room.after(typeof after === 'string' ? after : null);
      const seen = told.filter(({ kind, hidden }) => kind !== 'private' && !hidden);
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
    const refusal = room.refuses(author.id, false);
    if (refusal !== null) {
      res.status(403).json({ message: refusal });
      return;
    }
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

/** The owner's way of banning a writer: `PUT` with `banned`. */
export function answerBan(req: Request, res: Response, room: ChatRoom): void {
  const wish = z.strictObject({ banned: z.boolean() }).safeParse(req.body);
  if (!wish.success) {
    refuseInvalid(res, wish.error);
    return;
  }
  room.ban(String(req.params['author']), wish.data.banned);
  res.json({ banned: room.bannedIds });
}

/** The owner's rules for who may write: `GET` tells them, `PUT` sets those that are named. */
export function answerRoomRules(
  req: Request,
  res: Response,
  room: ChatRoom,
  offered: Partial<Record<keyof RoomRules, z.ZodType>>,
): void {
  if (req.method === 'PUT') {
    const wish = z.strictObject(offered).partial().safeParse(req.body);
    if (!wish.success) {
      refuseInvalid(res, wish.error);
      return;
    }
    room.rules = { ...room.rules, ...(wish.data as Partial<RoomRules>) };
  }
  const told = Object.keys(offered).map((name) => [name, room.rules[name as keyof RoomRules]]);
  res.json(Object.fromEntries(told));
}

/** The console's way of writing: whatever is wanted, at any length, for rehearsals of what a place lets through. */
export function serveChatConsole(http: Express, current: () => ChatRoom | null): void {
  http.post('/console/chat', (req, res) => {
    const { name, text, kind, ...author } = z
      .strictObject({
        name: z.string(),
        text: z.string(),
        kind: z.enum(MESSAGE_KINDS).default('message'),
        badges: z.array(z.string()).default([]),
        account_days: z.number().int().min(0).nullable().default(null),
      })
      .parse(req.body);
    const room = current();
    if (!room) res.status(409).json({ message: 'there is no chat now' });
    else res.json(room.write({ ...author, id: `console-${name}`, name, owner: false }, text, null, kind));
  });
  http.post('/console/chat/reactions', (req, res) => {
    const { kind, times } = z
      .strictObject({ kind: z.string().max(40), times: z.number().int().min(1).max(10_000) })
      .parse(req.body);
    const room = current();
    room?.react(kind, times);
    res.status(room ? 200 : 409).json(room?.reactions ?? { message: 'there is no chat now' });
  });
  const changed = (res: Response, act: (room: ChatRoom) => Message | null) => {
    const room = current();
    const message = room && act(room);
    res.status(message ? 200 : 404).json(message ?? { message: 'there is no such message' });
  };
  http.put('/console/chat/:message', (req, res) => {
    const { text } = z.strictObject({ text: z.string() }).parse(req.body);
    changed(res, (room) => room.change(req.params.message, text));
  });
  http.delete('/console/chat/:message', (req, res) => {
    changed(res, (room) => room.change(req.params.message, null));
  });
  http.get('/console/chat', (_req, res) => {
    const room = current();
    res.json({
      messages: room?.all() ?? [],
      banned: room?.bannedIds ?? [],
      rules: room?.rules ?? null,
    });
  });
  http.post('/console/chat/flood', async (req, res) => {
    const wish = z
      .strictObject({
        kind: z.enum(FLOOD_KINDS),
        per_s: z.number().min(1).max(5000),
        seconds: z.number().min(1).max(120),
        writers: z.number().int().min(1).max(10_000),
        says: z.string().min(1).max(200).optional(),
      })
      .parse(req.body);
    const room = current();
    if (!room) res.status(409).json({ message: 'there is no chat now' });
    else res.json({ written: await flood(room, wish) });
  });
}
