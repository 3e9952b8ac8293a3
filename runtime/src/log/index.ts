export { LineSink } from './line-sink';
export { describeError, makeLog, RecentLines, standardOutput } from './log';
