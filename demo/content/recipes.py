"""The bakery's recipes: a bake for each flour and shape, with its own quantities."""

FLOURS = [
    ("barley", "Barley", "bere barley meal", "tastes of hay and wants a hot stone"),
    ("rye", "Rye", "stoneground rye", "keeps moist for a week if the crust is left whole"),
    ("spelt", "Spelt", "spelt flour", "must not be kneaded long, or the dough slackens"),
    ("oat", "Oat", "pinhead oatmeal", "needs an hour in the milk before anything else is done"),
    ("wheat", "Wheat", "brown wheat flour", "takes more water than the white flour that you may be used to"),
    ("pea", "Pea", "pea flour", "gives a gold crumb and should never be more than a fifth of the whole"),
    ("buckwheat", "Buckwheat", "buckwheat flour", "browns early, so cover it after ten minutes"),
]
BAKES = [
    (
        "bannock",
        "bannock",
        220,
        12,
        "Pat the dough into a round as thick as a thumb, cut it in four and bake it on the girdle.",
    ),
    (
        "loaf",
        "tin loaf",
        500,
        45,
        "Shape it with wet hands, let it rise until it meets the rim, and bake it in a falling oven.",
    ),
    (
        "crispbread",
        "crispbread",
        180,
        9,
        "Roll it so thin that the board shows through, prick it all over, and turn it once.",
    ),
    (
        "scones",
        "scones",
        240,
        14,
        "Cut straight down without twisting, set them close, and take them out while the middle still gives.",
    ),
    (
        "pancakes",
        "pancakes",
        160,
        3,
        "Let the batter stand while the pan heats, and pour no more than a small ladle for each.",
    ),
    (
        "biscuits",
        "sea biscuits",
        300,
        25,
        "Stamp them with the old stamp or a fork, and dry them overnight in the cooling oven.",
    ),
    (
        "pudding",
        "steamed pudding",
        200,
        90,
        "Fill the basin two thirds, tie it down with a pleat in the cloth, and keep the water off the boil.",
    ),
    ("dumplings", "dumplings", 150, 20, "Roll them small, since they double, and keep the lid on until they float."),
    (
        "gingerbread",
        "gingerbread",
        280,
        35,
        "Melt the treacle only until it runs, and leave the cake alone for two days before you cut it.",
    ),
    (
        "pie-crust",
        "pie crust",
        320,
        30,
        "Rub it in with cold fingers, rest it longer than you think, and bake it blind with dried peas.",
    ),
    ("porridge", "slow porridge", 120, 40, "Stir only one way, says the miller, and take the salt in at the very end."),
]
