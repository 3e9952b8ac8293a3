export * from './numbered-stream';
