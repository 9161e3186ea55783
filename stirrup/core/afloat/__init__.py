"""How the boat sits in the water: ledger, equilibrium, righting arm."""
