export * from './arrival';
export * from './ingest-clock';
export * from './ingest-state';
export * from './judge';
export * from './source-frames';
