"""Addresses of accounts, sessions and the network."""

from django.urls import path

from darre.accounts.api import views

urlpatterns = [
    path("session/", views.SessionView.as_view()),
    path("session/password/", views.PasswordView.as_view()),
    path("accounts/", views.AccountsView.as_view()),
    path("accounts/first/", views.FirstAccountView.as_view()),
    path("accounts/join/", views.JoinView.as_view()),
    path("accounts/<int:account_id>/", views.AccountView.as_view()),
    path("accounts/<int:account_id>/invitation/", views.InvitationView.as_view()),
    path("tokens/", views.TokensView.as_view()),
    path("tokens/<int:token_id>/", views.TokenView.as_view()),
    path("network/", views.NetworkView.as_view()),
]
