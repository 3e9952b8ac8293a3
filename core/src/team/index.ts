export * from './permissions';
export * from './password-rule';
