/** Letters that each language of reports is written with beside those of English (CLDR, main exemplars), and its signs. */
const LETTERS: readonly (readonly [language: string, letters: string])[] = [
  ['English', 'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ'],
  ['German', 'äöüßÄÖÜ'],
  ['French', 'àâæçéèêëîïôœùûüÿÀÂÆÇÉÈÊËÎÏÔŒÙÛÜ'],
  ['Spanish', 'áéíñóúü¿¡ÁÉÍÑÓÚÜ'],
  ['Italian', 'àèéìòùÀÈÉÌÒÙ'],
  ['Dutch', 'áäéëíïóöúü'],
  ['Polish', 'ąćęłńóśźżĄĆĘŁŃÓŚŹŻ'],
  ['Russian', 'абвгдеёжзийклмнопрстуфхцчшщъыьэюяАБВГДЕЖЗИКЛМНОПРСТУФХЦЧШЩЭЮЯ'],
  ['Hebrew', 'אבגדהוזחטיכךלמםנןסעפףצץקרשת'],
];

/** Languages of reports that a typeface cannot write by itself. */
export const lettersLacking = (covers: ReadonlySet<number>): string[] =>
  LETTERS.flatMap(([language, letters]) =>
    [...letters].every((c) => covers.has(c.codePointAt(0)!)) ? [] : [language],
  );
