export * from './adts';
export * from '../../programme/silence-detector';
export * from './ogg';
