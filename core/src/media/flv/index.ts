export * from './flv';
