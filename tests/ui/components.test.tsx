import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState, type ReactNode } from 'react';
import { Button, IconButton } from '../../ui/components/button';
import { Choice } from '../../ui/components/choice';
import { Dialog } from '../../ui/components/dialog';
import { Field } from '../../ui/components/field';
import { Slider } from '../../ui/components/slider';
import { Words } from '../../ui/components/text';
import { Toggle } from '../../ui/components/toggle';
import { TypedSize } from '../../ui/screens/sheet/stops/ink/typed-size';

const Icon = () => null;

const show = (children: ReactNode) => render(<>{children}</>);

beforeAll(() => {
  // jsdom has none.
  window.matchMedia = () => ({ matches: true, addEventListener() {}, removeEventListener() {} }) as never;
});
afterEach(cleanup);

describe('a size that is typed', () => {
  it('is taken within its bounds, with a point or a comma; what is none is told, and changes nothing', () => {
    const onSet = jest.fn();
    show(<TypedSize label="Nib 1, px" px={8} onSet={onSet} />);
    const field = screen.getByLabelText<HTMLInputElement>('Nib 1, px');
    const type = (value: string) => {
      fireEvent.change(field, { target: { value } });
      fireEvent.blur(field);
    };
    expect(field.value).toBe('8');
    type('0,3');
    type('400');
    expect(onSet.mock.calls).toEqual([[0.3], [400]]);
    for (const bad of ['0.2', '401', 'wide', '']) {
      type(bad);
      expect(screen.getByRole('alert').textContent).toBe('A size is 0.3 to 400 px; it stays as it was.');
    }
    type('8.004');
    expect(screen.queryByRole('alert')).toBeNull();
    expect(onSet).toHaveBeenCalledTimes(2);
  });
});

describe('the slider', () => {
  function Held({ onDone }: { onDone(v: number): void }) {
    const [value, setValue] = useState(40);
    return <Slider label="Picture opacity" spoken={`${value} %`} value={value} onChange={setValue} onDone={onDone} />;
  }

  it('is named, says its value in words, and moves by keys within its bounds', () => {
    show(<Held onDone={() => {}} />);
    const slider = screen.getByRole('slider', { name: 'Picture opacity' });
    const now = () => [slider.getAttribute('aria-valuenow'), slider.getAttribute('aria-valuetext')];
    expect([slider.getAttribute('aria-valuemin'), slider.getAttribute('aria-valuemax')]).toEqual(['0', '100']);
    expect(now()).toEqual(['40', '40 %']);
    const press = (key: string) => fireEvent.keyDown(slider, { key });
    press('ArrowRight');
    expect(now()).toEqual(['41', '41 %']);
    press('PageDown');
    expect(now()).toEqual(['31', '31 %']);
    press('End');
    press('ArrowUp');
    expect(now()).toEqual(['100', '100 %']);
    press('Home');
    press('ArrowLeft');
    expect(now()).toEqual(['0', '0 %']);
  });

  it('takes held keys for one gesture', () => {
    jest.useFakeTimers();
    const done: number[] = [];
    show(<Held onDone={(v) => done.push(v)} />);
    const slider = screen.getByRole('slider', { name: 'Picture opacity' });
    for (let i = 0; i < 5; i++) {
      fireEvent.keyDown(slider, { key: 'ArrowRight' });
      act(() => void jest.advanceTimersByTime(100));
    }
    expect(done).toEqual([]);
    act(() => void jest.advanceTimersByTime(1000));
    expect(done).toEqual([45]);
    jest.useRealTimers();
  });

  it.each([
    ['the focus leaves it', (slider: HTMLElement) => fireEvent.blur(slider)],
    ['another key is pressed', (slider: HTMLElement) => fireEvent.keyDown(slider, { key: 'z', ctrlKey: true })],
  ])('is done with its keys as soon as %s, and not once more over what comes after', (_what, leave) => {
    jest.useFakeTimers();
    const done: number[] = [];
    show(<Held onDone={(v) => done.push(v)} />);
    const slider = screen.getByRole('slider', { name: 'Picture opacity' });
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    leave(slider);
    expect(done).toEqual([41]);
    act(() => void jest.advanceTimersByTime(1000));
    expect(done).toEqual([41]);
    jest.useRealTimers();
  });
});

describe('choices and switches', () => {
  it('tell which option is taken, and take another at a press', () => {
    const taken: string[] = [];
    show(
      <Choice
        label="Format"
        options={[
          { value: 'png', label: 'PNG', note: 'pixels' },
          { value: 'svg', label: 'SVG' },
        ]}
        value="png"
        onChange={(v) => taken.push(v)}
      />,
    );
    screen.getByRole('radiogroup', { name: 'Format' });
    const checked = () => screen.getAllByRole('radio').map((r) => r.getAttribute('aria-checked'));
    expect(checked()).toEqual(['true', 'false']);
    fireEvent.click(screen.getByRole('radio', { name: 'SVG' }));
    expect(taken).toEqual(['svg']);
  });

  it('flip, and say whether they are on', () => {
    const flipped: boolean[] = [];
    show(<Toggle label="Lock Lines" on={false} onChange={(on) => flipped.push(on)} />);
    const toggle = screen.getByRole('switch', { name: 'Lock Lines' });
    expect(toggle.getAttribute('aria-checked')).toBe('false');
    fireEvent.click(toggle);
    expect(flipped).toEqual([true]);
  });
});

describe('buttons', () => {
  it('are named for those who cannot see their icon, and do nothing while they are disabled', () => {
    const pressed: string[] = [];
    show(
      <>
        <IconButton label="Mirror" icon={Icon} chosen onPress={() => pressed.push('mirror')} />
        <Button label="Reset" disabled onPress={() => pressed.push('reset')} />
      </>,
    );
    const mirror = screen.getByRole('button', { name: 'Mirror' });
    expect(mirror.getAttribute('aria-pressed')).toBe('true');
    fireEvent.click(mirror);
    fireEvent.click(screen.getByRole('button', { name: 'Reset' }));
    expect(pressed).toEqual(['mirror']);
  });
});

describe('fields and dialogs', () => {
  it('name the field, and say below it what is wrong', () => {
    show(<Field label="Width, px" value="0" problem="A side must be at least 16 px." onChangeText={() => {}} />);
    expect(screen.getByLabelText('Width, px').getAttribute('aria-invalid')).toBe('true');
    expect(screen.getByRole('alert').textContent).toBe('A side must be at least 16 px.');
  });

  it('close by Escape, from a field too, and by the button; the focus goes back', () => {
    let closed = 0;
    function Opener() {
      const [open, setOpen] = useState(false);
      return (
        <>
          <Button label="Settings" onPress={() => setOpen(true)} />
          {open && (
            <Dialog
              title="New sheet"
              onClose={() => {
                closed++;
                setOpen(false);
              }}
            >
              <Field label="Name" value="" onChangeText={() => {}} />
              <Words>Some words</Words>
            </Dialog>
          )}
        </>
      );
    }
    show(<Opener />);
    const opener = screen.getByRole('button', { name: 'Settings' });
    act(() => opener.focus());
    fireEvent.click(opener);
    screen.getByText('New sheet');
    const field = screen.getByLabelText('Name');
    act(() => field.focus());
    fireEvent.keyDown(field, { key: 'Escape' });
    expect(closed).toBe(1);
    expect(screen.queryByText('New sheet')).toBeNull();
    expect(document.activeElement).toBe(opener);
    fireEvent.click(opener);
    fireEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(closed).toBe(2);
  });
});
