"""Finding an oil: what each is in figures, sifting by what is asked, what could stand in for what, the map."""
