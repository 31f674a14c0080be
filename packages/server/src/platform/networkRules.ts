/** Which addresses beside the public ones feeds may be fetched from. */
export interface NetworkRules {
  loopback: boolean;
  private: boolean;
}
