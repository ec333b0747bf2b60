"""Addresses of people."""

from __future__ import annotations

from django.contrib.auth.views import LogoutView
from django.urls import path

from .views.people import bring_back, new_password, people, set_role, withdraw
from .views.person import ChangePassword, SetPassword, SignIn, answer, choose_studio, preferences

urlpatterns = [
    path("sign-in/", SignIn.as_view(), name="sign_in"),
    path("sign-out/", LogoutView.as_view(), name="sign_out"),
    path("password/", ChangePassword.as_view(), name="password_change"),
    path("preferences/", preferences, name="preferences"),
    path("people/", people, name="people"),
    path("people/<int:member_id>/", set_role, name="set_role"),
    path("people/<int:member_id>/password/", new_password, name="new_password"),
    path("people/former/<int:former_id>/", bring_back, name="bring_back_person"),
    path("people/asked/<int:invitation_id>/", withdraw, name="withdraw_invitation"),
    path("set-password/<slug:uidb64>/<slug:token>/", SetPassword.as_view(), name="set_password"),
    path("invitations/<int:invitation_id>/", answer, name="answer_invitation"),
    path("studios/<int:studio_id>/", choose_studio, name="choose_studio"),
]
