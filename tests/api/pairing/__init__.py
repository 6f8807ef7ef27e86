"""Tests of the devices of the network."""
