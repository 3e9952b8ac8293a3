export * from './h264';
export * from './sequence';
