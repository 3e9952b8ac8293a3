export * from './count-text';
