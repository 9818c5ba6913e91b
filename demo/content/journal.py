"""The mill's journal: one entry for each topic and year, with that year's figures."""

TOPICS = [
    (
        "spring-neaps",
        "Spring neaps and a slow wheel",
        "The neaps of {year} left the pond {low} centimetres short, and the wheel took {turns} minutes to come round once.",
        "{person} kept the gate half shut and ground oats, which forgive a slow stone better than wheat does.",
        "We bagged {bags} bags in the week, about half of what a spring tide gives us.",
    ),
    (
        "dressing-the-stones",
        "Dressing the bedstone",
        "We lifted the runner on the second Monday of the month and found the furrows worn to {low} millimetres.",
        "{person} cut the lands again with mill bills from the box marked {turns}, and chalked each furrow as it was done.",
        "The first {bags} kilos after a dressing go to the hens at the farm, because they carry grit.",
    ),
    (
        "the-millers-ledger",
        "A page of the miller's ledger",
        "The ledger of 1822 lists {bags} sacks taken in toll between Candlemas and Lady Day.",
        "{person} read the page aloud in the loft and stopped at the line where the miller charges himself for {low} candles.",
        "We think the {turns} crosses in the margin count the nights on which the tide came after midnight.",
    ),
    (
        "eels-in-the-leat",
        "Eels in the leat",
        "On the last warm night of September {year}, {bags} silver eels came down the leat and waited at the screen.",
        "{person} lifted the screen by hand and let them through to the sea, as the deed of 1791 asks the miller to do.",
        "The longest measured {low} centimetres, and slipped off the board {turns} times before it would lie still.",
    ),
    (
        "storm-on-the-wall",
        "A storm on the sea wall",
        "The surge stood {low} centimetres above the coping at four in the morning, and the wall held.",
        "{person} walked its length with a lamp and marked {turns} loose stones in red paint.",
        "By noon {bags} people had come with barrows, and the worst gap was filled before the next tide.",
    ),
    (
        "new-cogs",
        "Apple wood for the great spur",
        "The great spur wheel lost {turns} cogs this winter, all on the side that faces the damp wall.",
        "{person} turned new ones from an apple tree that came down in the vicarage orchard in {year}.",
        "Each takes {low} minutes to shape and an evening in linseed oil; we made {bags} and keep the rest spare.",
    ),
    (
        "school-visit",
        "Thirty children and one sack",
        "The infants' class came on the low ebb, so the wheel stood still and they could look under it.",
        "{person} let them lift a {low}-kilo sack with the hoist; {bags} hands on the chain did it in {turns} heaves.",
        "Their drawings hang in the bakery until the end of term.",
    ),
    (
        "harvest-barley",
        "Barley from Long Acre",
        "Long Acre gave us {bags} bags of bere barley in {year}, drier than any since we began to write it down.",
        "{person} ran it through the lower pair at {turns} turns a minute and kept the stones {low} hundredths apart.",
        "The meal is grey and smells of hay. It is on the shelf from Friday.",
    ),
    (
        "frost-on-the-wheel",
        "Frost on the wheel",
        "Ice built up on the north floats until they weighed {low} kilos more than the south ones.",
        "{person} thawed them with {turns} kettles, a bucket at a time, while the tide waited in the pond.",
        "We ground only {bags} bags that week, and were glad of those.",
    ),
    (
        "swifts-return",
        "The swifts are back",
        "The first swift went into the gable on the {turns}th of May {year}, two days later than last year.",
        "{person} counts nests from the bakery roof, and has {low} on the list since the boxes went up.",
        "The hoist stays quiet until August; we carry the {bags} sacks up by the back stair instead.",
    ),
    (
        "leak-in-the-pond",
        "A leak in the pond bank",
        "The pond lost {low} centimetres between two high waters, and we found the hole by the sound it made.",
        "{person} puddled it with clay from the estuary, {bags} barrows of it, trodden in by {turns} pairs of boots.",
        "The bank has held through three springs since.",
    ),
]

PEOPLE = ["Hester Quill", "Tobias Fenwright", "Agnes Saltmarsh", "Owen Leatbridge", "Miriam Gadd"]
YEARS = range(2015, 2025)
