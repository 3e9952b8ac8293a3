export * from './adts';
export * from './loudness';
export * from './ogg';
