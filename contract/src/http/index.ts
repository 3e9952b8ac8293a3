export * from './endpoint';
export * from './fields';
export * from './files';
