/** How long texts may be: made from the API's document, `make types`. */
export const limits = {
  BankRemarkIn: { text: 5000 },
  CriterionIn: { key: 60 },
  CriterionLevelIn: { key: 60, name: 120 },
  ExemplarIn: { title: 120 },
  FeedbackIn: { words: 5000 },
  FeedbackWordsIn: { words: 5000 },
  GridIn: { text: 400000 },
  NewBankRemarkIn: { text: 5000 },
  NoteChange: { words: 5000 },
  NoteEffectsIn: { words: 5000 },
  NotesIn: { words: 5000 },
  PassageIn: { text: 5000 },
  QuoteModel: { exact: 5000 },
  RemarkIn: { text: 5000 },
} as const
