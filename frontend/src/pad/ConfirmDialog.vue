<script setup lang="ts">
/** Asks before something is gone for good. */
defineProps<{ title: string; text: string; action: string }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ confirm: [] }>()

function confirm(): void {
  emit('confirm')
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="440" role="alertdialog" :aria-label="title">
    <v-card class="ask" data-test="confirm">
      <h2 class="pad-title">{{ title }}</h2>
      <p>{{ text }}</p>
      <div class="row">
        <span class="grow"></span>
        <v-btn autofocus @click="open = false">Keep it</v-btn>
        <v-btn color="primary" variant="flat" data-test="confirm-yes" @click="confirm">{{ action }}</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.ask {
  padding: 18px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
p {
  margin: 0;
}
</style>
