export * from './packet';
export * from './resync-reader';
