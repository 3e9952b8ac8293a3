import { crc32 } from './crc32';
import type { FramedFormat } from './resync-reader';

/**
 * The packet format: how one encoded packet of the programme travels from the desk to the relay, and how both
 * keep it on disk. Numbers are big-endian.
 *
 * | bytes | field                                                                   |
 * |-------|-------------------------------------------------------------------------|
 * | 4     | magic `JPC1`                                                            |
 * | 1     | track: 0 video, 1 audio                                               |
 * | 1     | flags: bit 0 key, bit 1 slate                                            |
 * | 2     | zero                                                                    |
 * | 16    | session: the UUID of one composing desk from its start to its end       |
 * | 8     | number within the session, from 1, both tracks counted together         |
 * | 8     | presentation time on the programme clock, µs, from 0                    |
 * | 4     | duration, µs                                                            |
 * | 4     | length of the payload, 0 to {@link MAX_PAYLOAD_BYTES}                   |
 * | n     | payload: an H.264 access unit with start codes, or an Opus packet       |
 * | 4     | CRC-32 (IEEE 802.3) of all the bytes before it                          |
 *
 * Packets follow one another without anything between them, so a file of packets is their concatenation and a
 * write that was cut short by a crash is found by its length or its checksum.
 */
export interface Packet {
  /** A UUID in its usual lower-case form. */
  readonly session: string;
  /** 1 to 2^53 - 1. */
  readonly number: number;
  readonly track: Track;
  /** Can be decoded without those before it. Always true of audio. */
  readonly key: boolean;
  /** A frame of the standby slate instead of the programme; its time counts from the slate's beginning. */
  readonly slate: boolean;
  /** 0 to 2^53 - 1. */
  readonly timeUs: number;
  /** 0 to 2^32 - 1. */
  readonly durationUs: number;
  readonly payload: Uint8Array;
}

export type Track = 'video' | 'audio';

const MAGIC = 0x4a504331;
const MAGIC_BYTES = [0x4a, 0x50, 0x43, 0x31] as const;
const TRACKS: readonly Track[] = ['video', 'audio'];
const HEADER_BYTES = 48;
const CHECKSUM_BYTES = 4;
/** Bytes of a packet beside its payload. */
export const PACKET_FRAME_BYTES = HEADER_BYTES + CHECKSUM_BYTES;
const KEY_FLAG = 1;
const SLATE_FLAG = 2;

/** No frame of a programme comes near: a 1080p keyframe at 8 Mbit/s is under 1 MB. */
export const MAX_PAYLOAD_BYTES = 4 * 1024 * 1024;

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** The bytes of a packet. Throws a RangeError that names the field when one is out of its range. */
export function encodePacket(packet: Packet): Uint8Array {
  if (!UUID.test(packet.session)) throw new RangeError('session must be a lower-case UUID');
  assertWhole('number', packet.number, 1, Number.MAX_SAFE_INTEGER);
  assertWhole('timeUs', packet.timeUs, 0, Number.MAX_SAFE_INTEGER);
  assertWhole('durationUs', packet.durationUs, 0, 0xffff_ffff);
  assertWhole('payload length', packet.payload.length, 0, MAX_PAYLOAD_BYTES);

  const bytes = new Uint8Array(HEADER_BYTES + packet.payload.length + CHECKSUM_BYTES);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, MAGIC);
  view.setUint8(4, TRACKS.indexOf(packet.track));
  view.setUint8(5, (packet.key ? KEY_FLAG : 0) | (packet.slate ? SLATE_FLAG : 0));
  const hex = packet.session.replaceAll('-', '');
  for (let i = 0; i < 16; i++) bytes[8 + i] = parseInt(hex.slice(2 * i, 2 * i + 2), 16);
  view.setBigUint64(24, BigInt(packet.number));
  view.setBigUint64(32, BigInt(packet.timeUs));
  view.setUint32(40, packet.durationUs);
  view.setUint32(44, packet.payload.length);
  bytes.set(packet.payload, HEADER_BYTES);
  const checked = HEADER_BYTES + packet.payload.length;
  view.setUint32(checked, crc32(bytes.subarray(0, checked)));
  return bytes;
}

export type PacketProblem = 'not_a_packet' | 'too_long' | 'damaged' | 'unknown_track' | 'out_of_range';

export interface DecodedPackets {
  readonly packets: readonly Packet[];
  /** Bytes that were used up. What follows is the beginning of a packet, or what `problem` is about. */
  readonly consumed: number;
  /** Null when all that was read is sound. Nothing after a problem can be trusted. */
  readonly problem: PacketProblem | null;
}

/** Reads all whole packets at the start of `bytes`. Payloads are views into `bytes`, not copies. */
export function decodePackets(bytes: Uint8Array): DecodedPackets {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const packets: Packet[] = [];
  let at = 0;
  const stop = (problem: PacketProblem | null): DecodedPackets => ({ packets, consumed: at, problem });
  while (bytes.length - at >= HEADER_BYTES) {
    if (view.getUint32(at) !== MAGIC) return stop('not_a_packet');
    const length = view.getUint32(at + 44);
    if (length > MAX_PAYLOAD_BYTES) return stop('too_long');
    const checked = at + HEADER_BYTES + length;
    if (bytes.length < checked + CHECKSUM_BYTES) return stop(null);
    if (view.getUint32(checked) !== crc32(bytes.subarray(at, checked))) return stop('damaged');
    const track = TRACKS[view.getUint8(at + 4)];
    if (!track) return stop('unknown_track');
    const flags = view.getUint8(at + 5);
    const number = Number(view.getBigUint64(at + 24));
    const timeUs = Number(view.getBigUint64(at + 32));
    // Beyond 2^53 - 1 a number is not exact, and two of them could look the same.
    if (number < 1 || number > Number.MAX_SAFE_INTEGER || timeUs > Number.MAX_SAFE_INTEGER)
      return stop('out_of_range');
    packets.push({
      session: uuidAt(bytes, at + 8),
      number,
      track,
      key: (flags & KEY_FLAG) !== 0,
      slate: (flags & SLATE_FLAG) !== 0,
      timeUs,
      durationUs: view.getUint32(at + 40),
      payload: bytes.subarray(at + HEADER_BYTES, checked),
    });
    at = checked + CHECKSUM_BYTES;
  }
  const wrongStart = bytes.length - at >= 4 && view.getUint32(at) !== MAGIC;
  return stop(wrongStart ? 'not_a_packet' : null);
}

/** A file of packets: see {@link ResyncReader}. */
export const PACKET_FORMAT: FramedFormat<Packet> = {
  decode(bytes) {
    const { packets, consumed, problem } = decodePackets(bytes);
    return { items: packets, consumed, isBroken: problem !== null };
  },
  sizeOf: ({ payload }) => PACKET_FRAME_BYTES + payload.length,
  findStart(bytes, from) {
    for (let at = bytes.indexOf(MAGIC_BYTES[0], from); at >= 0; at = bytes.indexOf(MAGIC_BYTES[0], at + 1)) {
      if (MAGIC_BYTES.every((byte, i) => bytes[at + i] === byte)) return at;
    }
    return -1;
  },
  startBytes: 3,
};

function uuidAt(bytes: Uint8Array, at: number): string {
  const hex = Array.from(bytes.subarray(at, at + 16), (byte) => byte.toString(16).padStart(2, '0')).join('');
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join('-');
}

function assertWhole(name: string, value: number, least: number, most: number): void {
  if (!Number.isInteger(value) || value < least || value > most) {
    throw new RangeError(`${name} must be a whole number from ${least} to ${most}, not ${value}`);
  }
}
