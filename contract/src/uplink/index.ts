export * from './pieces';
