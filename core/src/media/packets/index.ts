export * from './piece';
export * from './resync-reader';
