"""The address of the data package."""

from django.urls import path

from darre.exchange.api import views

urlpatterns = [path("data-package/", views.DataPackageView.as_view())]
