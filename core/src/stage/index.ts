export * from './programme-clock';
