"""Visits, people, events and the shop."""

VISIT = [
    (
        "",
        "Visit the mill",
        [
            "Quillhaven Tide Mill stands where the creek meets the sea wall, twenty minutes on foot from the station.",
            "It works when the tide lets it. Look at the tide tables before you come, and come two hours after high water.",
        ],
    ),
    (
        "opening-hours",
        "Opening hours",
        [
            "The mill opens on every day that a spring tide falls between nine and five. From October to March the wheel turns at weekends only, and the bakery closes at two. Dogs are welcome on the sea wall but not on the stone floor.",
            "Groups of more than twelve should book a week ahead with the form below, so that we can warn the miller.",
            "The last turn of the stones is an hour before low water.",
        ],
    ),
    (
        "getting-here",
        "Getting here",
        [
            "From Quillhaven Halt, follow the creek on your left until the path runs out, then climb the wall.",
            "There is room for nine cars by the chapel. At the highest tides the lane is under water for an hour; the board at the bridge says when.",
        ],
    ),
    (
        "prices",
        "What it costs",
        [
            "Six pounds for the mill and the loft, three for children, nothing for anyone who brings grain.",
            "A day ticket for the stones and the bakery is eleven pounds and includes a bannock.",
        ],
    ),
    (
        "access",
        "Access",
        [
            "The stone floor, the bakery and the shop are level with the yard. The loft has fourteen steps and a rope.",
            "A stair chair runs on days when the hoist does; ring before ten and we will set it up.",
        ],
    ),
    (
        "groups-and-schools",
        "Groups and schools",
        [
            "Classes come on a low ebb in the morning, so that the wheel stands still and can be looked under.",
            "Bring one grown-up for six children, boots, and something to carry flour home in.",
        ],
    ),
    (
        "wheel-day",
        "Wheel day",
        [
            "On the first spring tide of each month we run both pairs of stones and explain everything twice.",
            "The best place to stand is on the bakery roof, by the swift boxes.",
        ],
    ),
    (
        "tearoom",
        "The tearoom",
        [
            "Seven tables under the hoist, tea in brown pots, and whatever came out of the oven at ten.",
            "We close the hatch when the bannock is gone, which on wheel days is early.",
        ],
    ),
    (
        "map",
        "A map of the mill",
        [
            "The creek comes in at the top, the leat leaves on the right, and the wheel sits between them under its own roof.",
            "Numbers on the map are the numbers on the doors. Door five does not open; it is painted on.",
        ],
    ),
    (
        "dogs-and-boots",
        "Dogs and boots",
        [
            "Flour and wet dogs make paste. The yard has a ring, a bowl and shade.",
            "Boots come off before the stone floor; there is a bench, and a rack of clogs in four sizes.",
        ],
    ),
    (
        "questions",
        "Questions people ask",
        [
            "Is it real flour? Yes, and it is for sale. Does the wheel always turn? No, the moon decides.",
            "Can I touch the stones? When they stand still, with a flat hand, and not on a Monday.",
        ],
    ),
]
BOARD = [
    ("trustees", "Trustees", "Nine people who meet on the neaps, when nothing else can be done."),
    ("volunteers", "Volunteers", "Forty-one names on the board by the door, most of them good with a shovel."),
    ("the-bakers", "The bakers", "Two before dawn, three at ten, and one who only does gingerbread."),
    ("history", "Millers since 1638", "Twenty-three of them; four were called Quill and two were the same person."),
]
TRADES = [
    "miller",
    "stone dresser",
    "baker",
    "hoist hand",
    "archivist",
    "wall warden",
    "guide",
    "swift counter",
    "millwright",
]
FIRST = ["Hester", "Tobias", "Agnes", "Owen", "Miriam", "Jonas", "Beatrix", "Silas", "Winifred"]
LAST = ["Quill", "Fenwright", "Saltmarsh", "Leatbridge"]
EVENTS = [
    (
        "open-day",
        "Open day",
        "All doors but the painted one are open, and the wheel turns from {hour} as long as the pond lasts.",
    ),
    (
        "wheel-night",
        "Wheel night",
        "High water falls at midnight, so we light the lamps at {hour} and grind in the dark.",
    ),
    (
        "bread-fair",
        "Bread fair",
        "Bakers from along the coast bring a loaf each to the yard at {hour}; the judges are the children.",
    ),
    (
        "stone-school",
        "Stone school",
        "Learn to dress a stone in a day, beginning at {hour}. Goggles and a packed lunch are lent.",
    ),
]
GOODS = [
    ("stoneground-rye", "Stoneground rye", "Ground on the lower pair, sieved once, and bagged while it is warm."),
    ("bere-barley-meal", "Bere barley meal", "From Long Acre, grey and sweet. For bannocks and for thickening broth."),
    ("brown-wheat-flour", "Brown wheat flour", "The whole grain and nothing else; it will not keep past the summer."),
    ("pinhead-oatmeal", "Pinhead oatmeal", "Cut, not rolled. It takes forty minutes and is worth them."),
    ("spelt-flour", "Spelt flour", "From two fields behind the chapel, in years when the geese leave any."),
    ("bannock-mix", "Bannock mix", "Barley, a little wheat, soda and salt, weighed out by the bakers."),
    ("gingerbread-tin", "Gingerbread tin", "A tin with the wheel on its lid, filled on the day that you order."),
    (
        "mill-bill-pencil",
        "Mill bill pencil",
        "A carpenter's pencil stamped like a mill bill. It will not dress stones.",
    ),
    ("linen-flour-bag", "Linen flour bag", "Woven for us in the old pattern, two blue stripes for the toll sack."),
    (
        "tide-calendar",
        "Tide calendar",
        "High and low water at Quillhaven for every day of the year, on one long sheet.",
    ),
    ("oatcakes", "Oatcakes", "Baked flat on the girdle, twelve in a paper wrapper."),
    ("wheel-day-ticket", "Wheel day ticket", "One person, both pairs of stones, and a bannock to take home."),
]
SIZES = [("1kg", "one kilo", 4), ("3kg", "three kilos", 10), ("5kg", "five kilos", 15), ("gift", "in a gift box", 19)]

ALLOTMENT = [
    ("marrows", "marrows"),
    ("leeks", "leeks"),
    ("runner-beans", "runner beans"),
    ("beetroot", "beetroot"),
    ("rhubarb", "rhubarb"),
    ("currants", "currants"),
    ("potatoes", "potatoes"),
    ("kale", "kale"),
    ("onions", "onions"),
]
MONTHS = ["march", "april", "may", "june", "september", "october"]
PLOT_WORK = {
    "march": "Turn the bed once and leave it rough, so that the last frosts break it down for you.",
    "april": "Sow under glass or fleece; the lane is two degrees colder than the town.",
    "may": "Plant out after the fair, never before, whatever the weather says.",
    "june": "Water at the root in the evening. The tank by gate two is full, the one by gate one leaks.",
    "september": "Lift what is ready, and bring the largest to the hut for the weighing.",
    "october": "Cover the bed with leaves from the lane; the council lets us have them all.",
}
