/** Whether a code of the TLS layer says that a certificate is not to be trusted, as CERT_HAS_EXPIRED. */
export const isCertificateFault = (code: string): boolean =>
  /CERT|SELF_SIGNED|ALTNAME|UNABLE_TO_(GET|VERIFY)/.test(code);

/** Whether a code says that two sides do not agree on encryption: one of them does not speak it, or not from the start. */
export const isTlsFault = (code: string): boolean => ['ETLS', 'EPROTO'].includes(code) || code.startsWith('ERR_SSL');
