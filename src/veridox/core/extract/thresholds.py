"""Every threshold of reading, in one place: what is compared with it and what it decides.

Chances are of 1. Most were set by looking at documents that were written for it and thrown away,
those of names and charges also by composed documents of the held side, of other seeds than those
that are measured; none by the documents of `bin/bench decision`. What the network or a table of
chances says instead is not here.
"""

from typing import Final

# -- What is stated, and how sure it may be

STATED: Final = 0.25
"""Chance from which a value is stated. Chances are made on pages whose every label is a stranger:
what is right there in one of four is so far more often on bills at large, and a person, who is
asked about anything below 85 %, rather looks at a proposal than at nothing."""
CONTESTED: Final = 0.8
"""How sure a value is at most beside another that may as well be it, however often the likelier of
two was right: which of two totals is to be paid, a person says."""
CREDITED: Final = 0.7
"""How sure a bill of less than nothing is a credit note, whatever it calls itself."""
DOUBTED: Final = 0.25
"""Chance of another value from which a field is doubted."""
NEVER: Final = 1e-5
"""No sign is surer, nor less sure, than this."""
LEAST_PARTY: Final = 1e-4
LEAST_TOTAL: Final = 1e-3
"""The same of parties and of totals weighed against each other: what an equation says about totals
outweighs what any word says of itself."""
AS_WELL: Final = 0.5
"""Chance from which another value may as well be the field's."""
BROKEN: Final = 2
"""Broken equations from which a change is looked for."""
MENDED: Final = 0.8
"""How sure a mended value is at most: less than what may go on without a person."""

# -- Values of the header

VALUE: Final = 0.35
"""Chance from which a value is stated."""
START: Final = 0.12
"""Chance of its best word from which a run of words is looked at."""
GROW: Final = 0.3
"""Chance from which a word belongs to such a run."""
CALLED: Final = 0.9
"""How surely the words before a number name it."""
SERIES: Final = 0.15
"""Chance from which capitals before a number are its series rather than the end of its label."""
LONGER: Final = 4
"""Words by which a name is made longer at most where it stands so elsewhere."""

# -- Parties

AMONG: Final = 4
"""Other words of a cell from which small words in it are part of a sentence and no name."""
LEFT_OVER: Final = 0.08
"""Chance of a word behind a name in its cell from which it belongs to it, where otherwise it would
be the address."""
EITHER: Final = 0.9
"""Chance that it is the one or the other."""
GOES_ON: Final = 0.6
"""Chance of two rows as large from which they are one name."""
CONTINUED: Final = 0.9
"""The same though the first is larger."""
BRANDED: Final = 0.5
"""Chance of a name with its legal form from which a shorter one it begins with is its brand."""
EVERY_WORD: Final = 0.85
"""Chance of each word of a longer name from which a shorter one it begins with is a part of it."""
ADDRESSED: Final = 1.5
"""What it is worth, in log-odds, that the mail or web address of a page is called like a name: of
the seller for it, of the buyer against it."""
NAMES_TRIED: Final = 4
"""Names of each party, the likeliest first, of which the likeliest pair is looked for."""
SWAPPED: Final = 0.8
"""How surely the other party sells where words took us for the seller."""
BUYS: Final = 0.15
"""Chance from which somebody may be the buyer."""
ONE_NAME: Final = 88
"""How alike, of 100, two names are that are one."""
OURS: Final = 0.97
"""Chance of what is one of our entities, whatever words say of it."""
ACCOUNT: Final = 0.3
"""Chance of being an account from which words are one."""

CHECKED: Final = 0.97
"""Chance of an account whose checksum holds: by chance one in a hundred would."""
STRANGE: Final = 0.9
"""The same where words call it something else. Of several banks the first will do as well."""

# -- Amounts

AMOUNTS_TRIED: Final = 4
"""Amounts for each total, the likeliest first, of which the likeliest set is looked for."""
AMOUNT: Final = 0.35
"""Chance from which an amount is stated that no equation vouches for."""
HOLDS: Final = 1.7
"""What an equation that holds is worth, in log-odds, for each total that it joins: among the
amounts of a page two make a third by chance in about one of a hundred and fifty tries, so that
three joined totals count for odds of that."""
SPELT: Final = 0.95
"""What a code counts that stands alone, be it in a label or the head of a column."""
NAMED: Final = 0.2
"""Chance of being a currency, or of an amount beside it, from which three capitals are the code of
a rarer one: ALL and PEN are words, too."""

# -- Lines

ANCHOR: Final = 0.45
"""Chance from which an amount begins a line."""
REACH: Final = 3.4
"""How far from its amount a cell may stand, in letter heights."""
FAINT: Final = 0.12
"""Chance from which a number is an amount where it stands in a column of amounts."""
WEAK: Final = 0.7
"""Chance below which words are no label of a sum that stands among lines."""
CHARGED: Final = 0.985
"""Chance from which words name a charge and no line though the lexicon does not know them: what
was done and stands right above the sums looks much like one."""
CELL: Final = 0.3
"""Chance from which a word is a cell of a line."""
CLEAR: Final = 0.8
"""Chance from which quantity and price are believed though they do not make the amount."""
TOGETHER: Final = 0.02
"""Chance of two numbers together from which they are quantity and price because they make the
amount."""
SPARE: Final = 0.3
"""Chance that one of two numbers needs for its place when the other is named as neither."""
ASIDE: Final = 16
"""Words on either side among which the numbers of a row are looked for."""

# -- Kinds, and where a document begins

ENOUGH: Final = 25
"""Words from which a page says what it is without a title."""
SPEAKS_OF: Final = 0.5
"""Chance from which words rather name the number of an earlier bill than not."""
TITLE_ABOVE: Final = 0.6
"""Share of the first page, from the top, in which its title stands."""
WHOLE_PAGE: Final = 0.9
"""Chance from which the whole page is believed against a title: letters speak of other documents
in large letters, too."""
BEGINS: Final = 0.75
"""How much must speak for a first page where no number tells."""
TALLER: Final = 1.2
"""How much taller than usual the letters of a title are."""
TITLE_IN: Final = 0.5
"""Share of a page, from the top, in which its title stands."""
UNLIKE: Final = 0.4
"""Share of letterhead and footer below which two pages are of different suppliers."""

# -- Words

NEAR: Final = 0.56
"""Widest gap between groups of digits of one number, in letter heights: a space of fonts whose
letters are all alike wide."""
NARROW: Final = 0.4
"""The same where words were recognised: their boxes are as narrow as their print."""

# -- Fields that a pipeline declares, found by their labels

BESIDE: Final = 0.97
"""How sure a value of the right form beside a label of its own is."""
LIKE: Final = 0.9
"""How sure the only text of an example's pattern is where no label stands."""
LISTED: Final = 84
"""Likeness, of 100, from which words are one of a closed list."""
SHARED: Final = 0.8
"""How surely a sign of several currencies is that of the document's language."""
BELOW_REACH: Final = 2.6
"""How far below a label, in label heights, its value may begin."""
