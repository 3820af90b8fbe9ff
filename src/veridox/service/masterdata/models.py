"""Entities, vendors, orders."""

from django.contrib.postgres.indexes import GinIndex
from django.db import models


class Entity(models.Model):
    """One of our own companies."""

    code = models.SlugField(max_length=63, unique=True)
    name = models.CharField(max_length=200)
    country = models.CharField(max_length=2)
    currency = models.CharField(max_length=3)
    tax_id = models.CharField(max_length=40, blank=True)


class Vendor(models.Model):
    """A supplier of the master data."""

    code = models.CharField(max_length=40, unique=True)
    name = models.CharField(max_length=200)
    name_key = models.CharField(max_length=200)
    tax_id = models.CharField(max_length=40, blank=True, db_index=True)
    country = models.CharField(max_length=2, blank=True)
    email = models.CharField(max_length=254, blank=True)
    needs_order = models.BooleanField(default=True)
    blocked = models.BooleanField(default=False)
    updated_at = models.DateTimeField(auto_now=True)

    class Meta:
        indexes = [
            GinIndex(fields=["name_key"], name="vendor_name_words", opclasses=["gin_trgm_ops"])
        ]


class Order(models.Model):
    """A purchase order; its lines carry what was ordered."""

    number = models.CharField(max_length=60, unique=True)
    key = models.CharField(max_length=60, unique=True)
    entity = models.ForeignKey(Entity, on_delete=models.PROTECT)
    vendor = models.ForeignKey(Vendor, on_delete=models.PROTECT)
    currency = models.CharField(max_length=3)
    ordered_on = models.DateField(null=True)
    closed = models.BooleanField(default=False)
    net_total = models.DecimalField(max_digits=18, decimal_places=4)
    updated_at = models.DateTimeField(auto_now=True)


class OrderLine(models.Model):
    """One line of an order."""

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="lines")
    position = models.PositiveIntegerField()
    item_code = models.CharField(max_length=80, blank=True)
    description = models.CharField(max_length=500)
    quantity = models.DecimalField(max_digits=18, decimal_places=6)
    unit = models.CharField(max_length=40, blank=True)
    unit_price = models.DecimalField(max_digits=18, decimal_places=6)

    class Meta:
        ordering = ["position"]
        constraints = [
            models.UniqueConstraint(fields=["order", "position"], name="order_line_once")
        ]
