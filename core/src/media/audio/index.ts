export * from './adts';
export * from './ogg';
