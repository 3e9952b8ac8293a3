export * from './feeds';
