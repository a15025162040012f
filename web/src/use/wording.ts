/** A label within a sentence: in small letters, but for words that are capitals throughout (axes, short forms such as RGB). */
export const inText = (label: string) => label.split(' ').map((word) => (word === word.toUpperCase() ? word : word.toLowerCase())).join(' ')
