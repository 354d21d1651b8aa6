<script setup lang="ts">
/** A button that opens a list of things to do; headings have no value. */
export interface MenuItem {
  title: string
  value?: string
}
defineProps<{ label: string; items: MenuItem[] }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ choose: [value: string] }>()
</script>

<template>
  <v-menu>
    <template #activator="{ props: activator }">
      <v-btn variant="text" size="small" append-icon="$dropdown" v-bind="{ ...activator, ...$attrs }">{{ label }}</v-btn>
    </template>
    <v-list role="menu" :aria-label="label">
      <template v-for="item in items" :key="item.title">
        <v-list-item
          v-if="item.value !== undefined"
          role="menuitem"
          :title="item.title"
          :data-item="item.value"
          @click="emit('choose', item.value)"
        />
        <v-list-subheader v-else>{{ item.title }}</v-list-subheader>
      </template>
    </v-list>
  </v-menu>
</template>
