"""Words of which made-up pages are written."""

_TEXT = """
tide mill wheel stone flour sack gate pond leat hoist miller barley neap spring rye oats bran sieve loft barge quay
rope beam oak elm iron cog shaft damsel hopper chute bin bushel peck dust bread crust dough yeast oven peel salt honey
seed field furrow plough sheaf stook barn cart horse ford bridge weir eel heron reed marsh
"""
WORDS = tuple(_TEXT.split())
