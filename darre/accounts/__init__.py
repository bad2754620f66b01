"""Who may come in once other devices are answered: accounts, their roles, and the gate that asks for them."""
