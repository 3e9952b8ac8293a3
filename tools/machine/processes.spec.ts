import { spawn } from 'node:child_process';
import { endProcesses, isRunning, markOf } from './processes';

describe('process marks', () => {
  it('tell a process from another that got its number', () => {
    const mark = markOf(process.pid, 'me')!;
    expect(isRunning(mark)).toBeTrue();
    expect(isRunning({ ...mark, startTicks: mark.startTicks - 1 })).toBeFalse();
    expect(isRunning({ ...mark, bootId: 'another' })).toBeFalse();
    expect(markOf(2 ** 22 + 1, 'nobody')).toBeNull();
  });

  it('end what asks nicely and what does not, and never a stranger', async () => {
    const run = (script: string) =>
      spawn(process.execPath, ['-e', script], { stdio: ['ignore', 'pipe', 'ignore'] });
    const stay = 'setInterval(() => {}, 1000); console.log("here");';
    const children = [run(stay), run(`process.on("SIGTERM", () => {}); ${stay}`), run(stay)];
    await Promise.all(children.map((child) => new Promise((here) => child.stdout.once('data', here))));
    const [nice, stubborn, stranger] = children.map((child) => markOf(child.pid!, 'child')!);
    await endProcesses([nice!, stubborn!, { ...stranger!, startTicks: 1 }], 300);
    expect([nice, stubborn, stranger].map((mark) => isRunning(mark!))).toEqual([false, false, true]);
    children[2]!.kill('SIGKILL');
  });
});
