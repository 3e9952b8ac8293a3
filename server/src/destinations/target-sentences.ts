import type { TargetProblem } from '@juncta/core/destinations';

/** What is wrong with an address or a key that somebody gave us, and what would be right. */
export const targetSentences: Record<TargetProblem, string> = {
  empty: 'The server address is missing. The place shows it beside the stream key.',
  not_an_address: 'This is no server address. One looks like rtmps://ingest.example/live.',
  wrong_scheme: 'Feeds go to addresses that begin with rtmp://, rtmps:// or srt://.',
  no_application:
    'The address ends after the host. Behind it stands a word, as in rtmps://ingest.example/live.',
  key_missing: 'The stream key is missing. The place shows it beside the server address.',
  port_missing: 'An address of SRT names its port, as in srt://ingest.example:9000.',
  mode_not_caller: 'We call the place: an address of SRT with another mode than caller cannot be used.',
  latency_range: 'The latency of SRT is a whole number of milliseconds, 1 to 8000.',
  passphrase_length: 'A passphrase of SRT has 10 to 79 characters.',
  key_control: 'There is a line break or another control character within the key. Copy it once more.',
  stream_id_length:
    'A stream id of SRT has at most 512 bytes: letters beyond the Latin ones count for two or more.',
  key_blank: 'There is a blank within the stream key. Copy it once more.',
};
