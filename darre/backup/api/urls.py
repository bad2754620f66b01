"""Addresses of backups."""

from django.urls import path

from darre.backup.api import views

urlpatterns = [
    path("backups/", views.BackupsView.as_view()),
    path("backups/<str:name>", views.BackupFileView.as_view()),
    path("backups/<str:name>/restore/", views.RestoreKeptView.as_view()),
    path("restore/", views.RestoreView.as_view()),
]
