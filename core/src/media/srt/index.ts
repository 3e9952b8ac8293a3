export * from './address';
