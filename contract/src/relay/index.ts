export * from './control';
export * from './reports';
