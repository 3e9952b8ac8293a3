export * from './endpoint';
export * from './fields';
