"""What reads files that people give: captures, lists, archives of moves."""
