import addressparser from 'nodemailer/lib/addressparser';

/** Names and addresses out of lines as mail programs and tables give them. */
export function readPeople(text: string): { firstName: string; lastName: string; email: string }[] {
  return text.split(/\r?\n/).flatMap((line) => {
    const plain = line.trim();
    if (plain === '') return [];
    // A line of a table: two or three cells with the address among them.
    const cells = plain
      .split(/\t|;/)
      .map((c) => c.trim())
      .filter((c) => c !== '');
    const at = cells.findIndex((c) => /^[^\s<>]+@[^\s<>]+$/.test(c));
    if (cells.length > 1 && at >= 0) {
      const [firstName = '', ...rest] = cells
        .filter((_, i) => i !== at)
        .slice(0, 2)
        .join(' ')
        .split(/\s+/);
      return [{ firstName, lastName: rest.join(' '), email: cells[at]! }];
    }
    return addressparser(plain, { flatten: true }).map(({ name, address }) => {
      // “Lund, Petra” as directories write it.
      const turned = name.includes(',')
        ? name
            .split(',')
            .map((p) => p.trim())
            .reverse()
            .join(' ')
        : name;
      const [firstName = '', ...rest] = turned.trim().split(/\s+/);
      return { firstName: firstName || address.split('@')[0] || '', lastName: rest.join(' '), email: address || plain };
    });
  });
}
