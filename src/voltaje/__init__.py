"""Voltaje: loads, services, conductors and overcurrent devices, with the working shown."""
