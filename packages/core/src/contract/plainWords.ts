import { z } from 'zod';

const NAMES: Record<string, string> = {
  number: 'a number',
  int: 'a whole number',
  string: 'a text',
  boolean: 'yes or no',
  array: 'a list',
  date: 'a date',
};

/** What is wrong with a value, in words for whoever typed it; fields with words of their own keep them. */
export function plainWords(issue: z.core.$ZodRawIssue): string {
  switch (issue.code) {
    case 'invalid_type': {
      if (issue.input === undefined || issue.input === null || issue.input === '') return 'Required.';
      const name = NAMES[issue.expected];
      return name ? `Must be ${name}.` : 'Invalid value.';
    }
    case 'too_big':
      if (issue.origin === 'string') return `Maximum ${issue.maximum} characters.`;
      return issue.inclusive === false ? `Less than ${issue.maximum}.` : `At most ${issue.maximum}.`;
    case 'too_small':
      if (issue.origin === 'string') {
        return issue.minimum === 1 ? 'Required.' : `At least ${issue.minimum} characters.`;
      }
      return issue.inclusive === false ? `More than ${issue.minimum}.` : `At least ${issue.minimum}.`;
    case 'invalid_value':
      return 'Choose an option from the list.';
    case 'invalid_format':
      return 'Invalid format.';
    case 'unrecognized_keys':
      return `Not known here: ${issue.keys.join(', ')}.`;
    default:
      return 'Invalid value.';
  }
}

z.config({ customError: plainWords });
