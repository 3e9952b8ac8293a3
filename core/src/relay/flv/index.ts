export * from './flv';
export * from './h264';
