export * from './h264';
