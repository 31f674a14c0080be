// @vitest-environment happy-dom
import { act, renderHook } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { useHistory } from './useHistory.ts';

describe('undo and redo', () => {
  it('go back as far as one likes, and forward until something else is done', () => {
    const { result } = renderHook(() => useHistory('a'));
    act(() => result.current.change('b'));
    act(() => result.current.change('c'));
    act(() => result.current.undo());
    act(() => result.current.undo());
    act(() => result.current.undo());
    expect(result.current).toMatchObject({ value: 'a', mayUndo: false, mayRedo: true });
    act(() => result.current.redo());
    act(() => result.current.change('d'));
    expect(result.current).toMatchObject({ value: 'd', mayRedo: false });
    act(() => result.current.undo());
    expect(result.current.value).toBe('b');
  });
});
