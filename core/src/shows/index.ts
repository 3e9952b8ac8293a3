export * from './phase';
export * from './three-way';
export * from './limits';
