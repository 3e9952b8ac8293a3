export * from './adts';
export * from './ear';
export * from './ogg';
