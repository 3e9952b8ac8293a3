/**
 * What the browsers that can run the desk have, and TypeScript's library of the page does not name: W3C
 * mediacapture-transform, and the part of the File System standard that only workers have.
 */
declare class MediaStreamTrackProcessor<T extends VideoFrame | AudioData> {
  constructor(init: { track: MediaStreamTrack; maxBufferSize?: number });
  readonly readable: ReadableStream<T>;
}

/** A track that is made of what is written to it. */
declare class MediaStreamTrackGenerator<T extends VideoFrame | AudioData> extends MediaStreamTrack {
  constructor(init: { kind: T extends VideoFrame ? 'video' : 'audio' });
  readonly writable: WritableStream<T>;
}

interface FileSystemSyncAccessHandle {
  read(buffer: ArrayBufferView, options?: { at?: number }): number;
  write(buffer: ArrayBufferView, options?: { at?: number }): number;
  truncate(size: number): void;
  flush(): void;
  getSize(): number;
  close(): void;
}

interface FileSystemFileHandle {
  createSyncAccessHandle(): Promise<FileSystemSyncAccessHandle>;
}

interface FileSystemDirectoryHandle {
  entries(): AsyncIterableIterator<[string, FileSystemHandle]>;
}
