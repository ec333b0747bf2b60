"""Tags and filters that every template may use: measures in the person's unit, icons, script modules. None of them asks the database."""
