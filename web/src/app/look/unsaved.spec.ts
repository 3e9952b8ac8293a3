import { Unsaved } from './unsaved';

describe('what is not saved', () => {
  it('is lost by a second try to close only, and by the first where nothing is', () => {
    let text = 'as it was kept';
    const unsaved = new Unsaved(() => [text]);
    // Not even read yet.
    expect(unsaved.mayClose()).toBeTrue();
    unsaved.settle();
    expect(unsaved.mayClose()).toBeTrue();
    text = 'written since';
    expect([unsaved.mayClose(), unsaved.warned()]).toEqual([false, true]);
    expect(unsaved.mayClose()).toBeTrue();
    unsaved.settle();
    expect([unsaved.warned(), unsaved.mayClose()]).toEqual([false, true]);
    text = 'once more';
    expect(unsaved.mayClose()).toBeFalse();
  });

  it('counts what is still being typed, and leaves the cursor there', () => {
    const field = document.createElement('textarea');
    document.body.append(field);
    let kept = '';
    field.addEventListener('change', () => (kept = field.value));
    field.addEventListener('blur', () => (kept = field.value));
    const unsaved = new Unsaved(() => kept);
    unsaved.settle();
    field.focus();
    field.value = 'half a word';
    expect(unsaved.mayClose()).toBeFalse();
    expect(document.activeElement).toBe(field);
    field.remove();
  });
});
