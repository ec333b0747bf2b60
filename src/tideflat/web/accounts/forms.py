"""Sign-in and preferences."""

from __future__ import annotations

from django import forms

from .models import Preference


class PreferenceForm(forms.ModelForm):
    """How lengths are written and how deep the grey is."""

    class Meta:
        model = Preference
        fields = ["unit", "ground"]
        widgets = {"unit": forms.RadioSelect, "ground": forms.RadioSelect}
