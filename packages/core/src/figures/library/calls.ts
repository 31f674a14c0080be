import { derived, entries, ratio, sum } from './entry.ts';

export const calls = entries('calls', [
  ['calls', 'count', 'higher', sum('calls'), 'Calls to the tracked numbers.'],
  ['callsAnswered', 'count', 'higher', sum('callsAnswered'), 'Calls that were answered.'],
  ['callsMissed', 'count', 'lower', derived('calls - callsAnswered'), 'Calls that were not answered.'],
  ['answerRate', 'percent', 'higher', ratio('callsAnswered', 'calls'), 'Calls answered ÷ calls.'],
  ['callTime', 'duration', 'neutral', ratio('callSeconds', 'callsAnswered'), 'Time on the phone ÷ calls answered.'],
  ['firstCalls', 'count', 'higher', sum('firstCalls'), 'Calls from numbers that had not called before.'],
]);
