"""Colour: conversion and mixing. sRGB hex outside, linear light inside."""
