/** Where an RTMP stream goes, apart from its key. */
export interface RtmpAddress {
  readonly secure: boolean;
  readonly host: string;
  readonly port: number;
  /** The application: the path without its leading slash. */
  readonly app: string;
  /** The address as it is told to the other side, without the key. */
  readonly tcUrl: string;
}

const PORTS = { rtmp: 1935, rtmps: 443 } as const;
const ADDRESS = /^(rtmps?):\/\/(\[[0-9a-f:.]+\]|[^\s/:?#@[\]]+)(?::(\d{1,5}))?\/([^\s#]+?)\/?$/i;

/** An address like `rtmps://live.example/app`; null when it is none. The key does not belong into it. */
export function parseRtmpAddress(text: string): RtmpAddress | null {
  const found = ADDRESS.exec(text.trim());
  if (!found) return null;
  const scheme = found[1]!.toLowerCase() as keyof typeof PORTS;
  const host = found[2]!;
  const port = found[3] === undefined ? PORTS[scheme] : Number(found[3]);
  const app = found[4]!;
  if (port < 1 || port > 65_535 || app === '') return null;
  const shownPort = found[3] === undefined ? '' : `:${port}`;
  return {
    secure: scheme === 'rtmps',
    host: host.replace(/^\[|\]$/g, ''),
    port,
    app,
    tcUrl: `${scheme}://${host}${shownPort}/${app}`,
  };
}
