export * from './input-report';
