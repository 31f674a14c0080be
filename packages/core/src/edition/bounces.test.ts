import { describe, expect, it } from 'vitest';
import { bounceWords, isDeadAddress, readDeliveryStatus, returnPathOf, tokenOf } from './index.ts';

const BASE = 'Bounces@fernglass.example';

describe('a return path of its own', () => {
  it('is known again by its token, however it is written', () => {
    const path = returnPathOf(BASE, 'de-a1b2');
    expect(path).toBe('Bounces+de-a1b2@fernglass.example');
    expect(tokenOf(BASE, path)).toBe('de-a1b2');
    expect(tokenOf(BASE, ' BOUNCES+DE-A1B2@FERNGLASS.EXAMPLE ')).toBe('de-a1b2');
  });

  it.each([
    'bounces@fernglass.example',
    'bounces+@fernglass.example',
    'bounces+a b@fernglass.example',
    'bounces+a@elsewhere.example',
    'other+a@fernglass.example',
    'bounces+a@evil@fernglass.example',
    '',
  ])('is none of ours: %s', (address) => {
    expect(tokenOf(BASE, address)).toBeNull();
  });
});

const report = (recipient: string) =>
  `Reporting-MTA: dns; mx.tarn.example\r\nArrival-Date: Tue, 3 Nov 2026 08:00:00 +0000\r\n\r\n${recipient}`;

describe('what a report on a delivery says', () => {
  it('is read recipient by recipient, folded lines and all', () => {
    const text = report(
      [
        'Original-Recipient: rfc822;Ada@tarn.example',
        'Final-Recipient: rfc822; ada.box@tarn.example',
        'Action: failed (no box)',
        'Status: 5.1.1 (unknown)',
        'Diagnostic-Code: smtp; 550 5.1.1 no such\r\n box here',
        '',
        'Final-Recipient: rfc822; <ole@tarn.example>',
        'Action: delayed',
        'Status: 4.2.2',
        '',
      ].join('\r\n'),
    );
    expect(readDeliveryStatus(text)).toEqual([
      { recipient: 'ada@tarn.example', action: 'failed', status: '5.1.1', said: '550 5.1.1 no such box here' },
      { recipient: 'ole@tarn.example', action: 'delayed', status: '4.2.2', said: '4.2.2' },
    ]);
  });

  it('is nothing where it is no such report, and no fault where it is damaged', () => {
    expect(readDeliveryStatus('')).toEqual([]);
    expect(readDeliveryStatus('Hello, I am on leave until Monday.')).toEqual([]);
    expect(readDeliveryStatus(report('Action: exploded\nStatus: 9.9.9'))).toEqual([]);
    expect(readDeliveryStatus(report('Action: FAILED\nStatus: none'))).toEqual([
      { recipient: '', action: 'failed', status: '', said: 'none' },
    ]);
    expect(
      readDeliveryStatus(report(`Action: failed\nDiagnostic-Code: smtp; ${'x'.repeat(9_000)}`))[0]!.said,
    ).toHaveLength(500);
  });

  it('tells an address that is dead from a box that is full, and says what it means', () => {
    expect(['5.1.1', '5.1.10', '5.2.1', '5.4.4'].every(isDeadAddress)).toBe(true);
    expect(['5.2.2', '4.4.7', '5.7.1', '5.3.4', ''].some(isDeadAddress)).toBe(false);
    expect(bounceWords({ status: '5.1.1' })).toBe('This address doesn’t exist.');
    expect(bounceWords({ status: '5.2.2' })).toBe('The mailbox is full.');
    expect(bounceWords({ status: '5.7.26' })).toContain('Their mail server rejects our emails.');
    expect(bounceWords({ status: '' })).toContain('rejected it');
  });
});
