import { mkdirSync, writeFileSync } from 'node:fs';
import { networkInterfaces } from 'node:os';
import path from 'node:path';

/**
 * The settings of Janus, Debian's media server, written anew at every start: its door on loopback and locked, its
 * media on this machine's own networks. What Debian's package brings under /etc is not used.
 */
export interface JanusSettings {
  readonly dir: string;
  readonly port: number;
  readonly secret: string;
  /** The address guests reach this machine by, where a router stands in between; null: its own ones. */
  readonly publicAddress: string | null;
}

/** UDP ports of media. A firewall has to let them in where guests come from outside. */
const MEDIA_PORTS = '20000-20499';

export function writeJanusSettings({ dir, port, secret, publicAddress }: JanusSettings): void {
  mkdirSync(dir, { recursive: true, mode: 0o700 });
  const files = {
    'janus.jcfg': `
general: {
  configs_folder = ${quoted(dir)}
  debug_level = 3
  debug_timestamps = true
  debug_colors = false
  api_secret = ${quoted(secret)}
  session_timeout = 60
  # Guests may come back within a second of a restart: nothing of the old run is to linger.
  reclaim_session_timeout = 0
}
media: {
  rtp_port_range = "${MEDIA_PORTS}"
  # A line that carries nothing for so long is told to be broken.
  no_media_timer = 2
}
nat: {
  ice_enforce_list = ${quoted(interfaces().join(','))}
  ice_lite = false
  ${publicAddress ? `nat_1_1_mapping = ${quoted(publicAddress)}\n  keep_private_host = true` : ''}
}
plugins: {
  disable = "libjanus_audiobridge.so,libjanus_duktape.so,libjanus_echotest.so,libjanus_lua.so,libjanus_nosip.so,libjanus_recordplay.so,libjanus_sip.so,libjanus_streaming.so,libjanus_textroom.so,libjanus_videocall.so,libjanus_voicemail.so"
}
transports: {
  disable = "libjanus_http.so,libjanus_mqtt.so,libjanus_nanomsg.so,libjanus_pfunix.so,libjanus_rabbitmq.so"
}
events: {
  broadcast = false
}
`,
    'janus.transport.websockets.jcfg': `
general: {
  json = "compact"
  ws = true
  ws_port = ${port}
  ws_ip = "127.0.0.1"
  wss = false
}
admin: {
  admin_ws = false
}
`,
    // Rooms are named by shows, and made by whoever knows the house's secret alone.
    'janus.plugin.videoroom.jcfg': `
general: {
  string_ids = true
}
`,
  };
  for (const [name, text] of Object.entries(files))
    writeFileSync(path.join(dir, name), text, { mode: 0o600 });
}

/** Loopback too: a browser on this very machine may be there, and stand-ins are. */
function interfaces(): string[] {
  return Object.keys(networkInterfaces());
}

const quoted = (text: string) => JSON.stringify(text);
