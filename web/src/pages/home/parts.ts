export { BackPart } from './BackPart';
export { CardPage } from './CardPage';
export { CardsPart } from './CardsPart';
export { HomePage } from './HomePage';
export { PracticePart } from './PracticePart';
export { WordingPart } from './WordingPart';
